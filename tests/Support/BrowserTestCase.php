<?php

declare(strict_types=1);

namespace Tests\Support;

use Facebook\WebDriver\Remote\RemoteWebDriver;
use Facebook\WebDriver\Remote\RemoteWebElement;
use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Support\Chrome;

/** The served copy in headless Chromium. */
abstract class BrowserTestCase extends ServedTestCase
{
    /** A machine on which much else runs takes so many times as long as it should. */
    private const PATIENCE = 4;

    private ?Chrome $chrome = null;

    protected function tearDown(): void
    {
        $this->chrome?->quit();
        $this->chrome = null;
    }

    /** A browser with a fresh profile. */
    protected function open(int $width = 1280): RemoteWebDriver
    {
        return ($this->chrome ??= new Chrome())->open($width);
    }

    protected function signIn(int $width = 1280, ?RemoteWebDriver $browser = null): RemoteWebDriver
    {
        $browser ??= $this->open($width);
        $browser->get($this->origin().'/');
        $this->fill($browser, 'E-mail address', 'ines@larkhollow.example');
        $this->fill($browser, 'Password', (string) getenv('PELLIX_TEST_PASSWORD'));
        $this->press($browser, 'Sign in');
        $this->see($browser, 'Make an experiment');

        return $browser;
    }

    /** The control that a label belongs to. */
    protected function field(RemoteWebDriver $browser, string $label, int $which = 0): RemoteWebElement
    {
        return $this->await($browser, function () use ($browser, $label, $which) {
            $labels = $browser->findElements(WebDriverBy::xpath("//label[normalize-space()='{$label}']"));

            return isset($labels[$which]) ? $browser->findElement(WebDriverBy::id((string) $labels[$which]->getAttribute('for'))) : null;
        }, "the field {$label}");
    }

    protected function fill(RemoteWebDriver $browser, string $label, string $text, int $which = 0): void
    {
        // Found anew where the page was drawn anew meanwhile.
        $this->await($browser, fn () => $this->field($browser, $label, $which)->sendKeys([WebDriverKeys::CONTROL, 'a'])->sendKeys($text), "the field {$label}");
    }

    /** Presses the button, or follows the link, with this name. */
    protected function press(RemoteWebDriver $browser, string $name): void
    {
        $this->await($browser, function () use ($browser, $name) {
            $path = "//*[self::button or self::a][normalize-space()='{$name}' or @aria-label='{$name}']";
            $shown = array_filter($browser->findElements(WebDriverBy::xpath($path)), fn ($one) => $one->isDisplayed());
            // A dialog's button is the last of its name.
            $button = end($shown);
            // One that waits for something takes no press yet.
            if ($button === false || ! $button->isEnabled()) {
                return null;
            }
            $browser->executeScript('arguments[0].scrollIntoView({ block: "center" }); return null;', [$button]);
            $button->click();

            return true;
        }, "the button {$name}");
    }

    /** Chooses one of a few. */
    protected function choose(RemoteWebDriver $browser, string $button, string $option): void
    {
        $this->press($browser, $button);
        $this->await($browser, function () use ($browser, $option) {
            $browser->findElement(WebDriverBy::xpath("//*[@role='option'][normalize-space()='{$option}']"))->click();

            return true;
        }, "the choice {$option}");
    }

    /** Goes to a link of an experiment's chain. */
    protected function link(RemoteWebDriver $browser, string $link): void
    {
        $this->await($browser, function () use ($browser, $link) {
            $browser->findElement(WebDriverBy::cssSelector("nav[aria-label='Signal chain'] a[href$='/{$link}']"))->click();

            return true;
        }, "the link {$link}");
        $this->await($browser, fn () => str_ends_with($browser->getCurrentURL(), "/{$link}") ?: null, "the view of {$link}");
    }

    /** Waits until everything that was typed is kept. */
    protected function kept(RemoteWebDriver $browser): void
    {
        // What was typed just now is noticed first.
        usleep(100_000);
        $this->await($browser, fn () => $browser->findElements(WebDriverBy::cssSelector('[data-keeping=kept]')) !== [] ?: null, 'everything to be kept');
    }

    /** Gives the draft that is open a goal, a page that is reached, and starts it. */
    protected function startWithGoal(RemoteWebDriver $browser, string $name, string $goal, string $path): void
    {
        $this->link($browser, 'goals');
        $this->press($browser, 'Make a goal: a page is reached');
        $this->fill($browser, 'Goal name', $goal);
        $this->fill($browser, 'Goal path', $path);
        $this->press($browser, 'Make the goal');
        $this->see($browser, 'It has not counted once in the last seven days.');
        $this->kept($browser);
        $this->start($browser, $name);
    }

    /** Starts the draft that is open, also over what speaks against it. */
    protected function start(RemoteWebDriver $browser, string $name): void
    {
        $this->askToStart($browser, $name);
        $this->await($browser, fn () => str_contains($this->text($browser), 'running, ') ?: null, 'the experiment to run');
    }

    protected function askToStart(RemoteWebDriver $browser, string $name): void
    {
        $this->press($browser, 'Start');
        $this->see($browser, "Start “{$name}”?");
        $this->await($browser, fn () => $browser->findElements(WebDriverBy::cssSelector('[role=dialog] [data-ready=there]')) !== [] ?: null, 'the ready list to be looked through', 30);
        expect($this->axe($browser))->toBe([]);
        if (str_contains($this->text($browser), 'This speaks against it:')) {
            $this->fill($browser, 'Reason', 'For a test');
            $this->press($browser, 'Start all the same');
        } else {
            $this->press($browser, 'Start');
        }
    }

    protected function see(RemoteWebDriver $browser, string $text, int $seconds = 15): void
    {
        // What was seen may be another text by now, as where something is kept once more.
        $seen = $this->await($browser, fn () => str_contains($read = $this->text($browser), $text) ? $read : null, "the text \"{$text}\"", $seconds);
        expect($seen)->toContain($text);
    }

    /** What a person reads, with plain spaces. */
    protected function text(RemoteWebDriver $browser, string $css = 'body'): string
    {
        return str_replace(["\u{202f}", "\u{a0}"], ' ', $browser->findElement(WebDriverBy::cssSelector($css))->getText());
    }

    /**
     * @template T
     *
     * @param callable(): ?T $probe
     *
     * @return T
     */
    public function await(RemoteWebDriver $browser, callable $probe, string $what, int $seconds = 15): mixed
    {
        $until = microtime(true) + $seconds * self::PATIENCE;
        do {
            try {
                $found = $probe();
                if ($found !== null) {
                    return $found;
                }
            } catch (\Facebook\WebDriver\Exception\WebDriverException) {
                // The page is being drawn anew; look again.
            }
            usleep(100_000);
        } while (microtime(true) < $until);

        $this->fail("Waited for {$what} at {$browser->getCurrentURL()}. The page reads:\n{$this->text($browser)}");
    }

    /** @return list<string> what axe-core finds wrong, of impact serious or critical */
    protected function axe(RemoteWebDriver $browser): array
    {
        $browser->executeScript((string) file_get_contents(dirname(__DIR__, 2).'/node_modules/axe-core/axe.min.js'));
        $violations = $browser->executeAsyncScript(
            'const done = arguments[0]; axe.run(document, { runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"] }).then((r) => done(r.violations));',
        );
        $grave = array_filter($violations, static fn (array $one): bool => in_array($one['impact'], ['serious', 'critical'], true));

        return array_values(array_map(static fn (array $one): string => "{$one['id']}: {$one['help']}: ".implode(' | ', array_map(
            static fn (array $node): string => $node['html'],
            $one['nodes'],
        )), $grave));
    }
}
