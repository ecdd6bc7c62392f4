<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Rehearsals\Browser\CommandFailed;
use App\Rehearsals\Browser\Tab;
use Closure;
use Facebook\WebDriver\Exception\NoSuchElementException;
use Facebook\WebDriver\Exception\WebDriverException;
use Facebook\WebDriver\Interactions\WebDriverActions;
use Facebook\WebDriver\WebDriverSelect;
use Pellix\Core\Rehearsal\MadeUp;
use Pellix\Core\Rehearsal\Step;
use Pellix\Core\Rehearsal\StepKind;

/** Does the steps of a script on a visitor's page, as a visitor's hands would. */
final class Walker
{
    private const LOADS = 12.0;

    /** @var array<string, array{method: string, url: string, body: string|null}> of all pages of the walk */
    public array $requests = [];

    /** What was typed into fields, and how. */
    public readonly Forms $forms;

    private readonly Expecting $expecting;

    /** Whether the page is left as soon as the next step is done. */
    public bool $hurries = false;

    /** What was said of the last step, besides that it was done. */
    private string $remark = '';

    public function __construct(private readonly Stage $stage, public Tab $tab)
    {
        $this->forms = new Forms(new MadeUp(Visitors::anyMark()));
        $this->expecting = new Expecting($stage);
    }

    /**
     * @return array{done: bool, words: string} whether it could be done, and if not why; or what is to be known of it
     */
    public function do(Step $step): array
    {
        $this->remark = '';
        try {
            $why = match ($step->kind) {
                StepKind::Open => $this->begin($this->stage->address((string) $step->name)),
                StepKind::Follow => $this->follow($step),
                StepKind::Click => $this->click((string) $step->element),
                StepKind::Type => $this->type((string) $step->element, (string) $step->value),
                StepKind::Choose => $this->choose((string) $step->element, (string) $step->value),
                StepKind::Submit => $this->submit((string) $step->element),
                StepKind::Scroll => $this->scroll($step),
                StepKind::Hover => $this->hover((string) $step->element),
                StepKind::Wait => $this->expecting->wait($this->tab, $step),
                StepKind::Back => $this->load(fn () => $this->tab->evaluate('history.back()')),
                StepKind::Reload => $this->load(fn () => $this->tab->execute('Page.reload')),
                StepKind::NewTab => $this->newTab(),
                StepKind::ClearCookies => $this->clearCookies(),
                StepKind::Consent => $this->consent($step->categories),
                StepKind::Expect => $this->expecting->expect($this->tab, $step),
            };
            $this->hurries && $why === null && $this->tab->address() !== 'about:blank' && $this->hurry();
        } catch (NoSuchElementException) {
            $why = "there is no element {$step->element}";
        } catch (WebDriverException $e) {
            $why = self::inWords($e, (string) $step->element);
        } catch (CommandFailed $e) {
            $why = $e->getMessage();
        }
        $this->gather();

        return ['done' => $why === null, 'words' => $why ?? $this->remark];
    }

    /** Takes note of what was asked for, before the next page is told apart from it. */
    public function gather(): void
    {
        $this->tab->askForBodies();
        // What a script writes into the address is asked for by nobody, and read by everybody.
        $address = $this->tab->hangs ? '' : $this->tab->address();
        if (str_starts_with($address, 'http')) {
            $this->requests["at {$address}"] = ['method' => 'GET', 'url' => $address, 'body' => null];
        }
        foreach ($this->tab->watch->requests as $request) {
            $this->requests[$request['id'].$request['url']] = ['method' => $request['method'], 'url' => $request['url'], 'body' => $request['body']];
        }
        $this->requests = array_slice($this->requests, -2000);
    }

    /** Opens a page; of the experiment's own, what sets it off is done there, too. */
    private function begin(string $url): ?string
    {
        $why = $this->open($url);
        if ($why === null && $this->stage->experiment->pages->matches($url)) {
            $this->stage->visitors->setOff($this->tab);
        }

        return $why;
    }

    private function open(string $url): ?string
    {
        return $this->load(fn () => $this->tab->go($url));
    }

    private function load(Closure $act): ?string
    {
        $before = count($this->tab->watch->addresses);
        $act();
        $this->tab->attend(0.1);
        $settled = $this->tab->settle(self::LOADS);
        $this->stage->awaitRuntime($this->tab, 1.5);

        return match (true) {
            $this->tab->hangs => 'the page hangs',
            $this->tab->watch->noted('crash') !== null => 'the page crashed',
            ! $settled && count($this->tab->watch->addresses) === $before => 'the page was not loaded within '.self::LOADS.' s',
            default => null,
        };
    }

    /** Goes on by a link, by a form, by what visitors clicked there, and in the end by the address. */
    private function follow(Step $step): ?string
    {
        $found = $this->tab->evaluate(Probe::call('way', $this->stage->address((string) $step->name)), true);
        $before = $this->tab->address();
        if ($found === 'link') {
            $why = $this->click('[data-pellix-way]');
        } elseif ($found === 'form') {
            $why = $this->submit('[data-pellix-way]');
        } elseif ($step->element !== null && $this->tab->evaluate('!!document.querySelector('.Probe::json($step->element).')', true) === true) {
            $why = $this->click($step->element);
        } else {
            $why = 'no link leads there';
        }
        $this->tab->evaluate('document.querySelector("[data-pellix-way]")?.removeAttribute("data-pellix-way")', true);
        if ($this->tab->address() !== $before) {
            return null;
        }
        $this->remark = "{$step->name} was opened by its address, since ".($why ?? 'what was clicked did not lead there');

        return $this->open($this->stage->address((string) $step->name));
    }

    private function click(string $selector): ?string
    {
        $this->expecting->await($this->tab, $selector);
        $element = $this->tab->element($selector);
        $this->tab->evaluate('document.querySelector('.Probe::json($selector).')?.scrollIntoView({ block: "center", behavior: "instant" })', true);
        if ($this->tab->evaluate('(() => { const one = document.querySelector('.Probe::json($selector).'); return !!one && !!one.form && (one.type === "submit" || one.type === "image"); })()', true) === true) {
            $this->forms->fill($this->tab, $selector);
        }
        $element->click();

        return $this->afterwards();
    }

    private function submit(string $selector): ?string
    {
        $this->expecting->await($this->tab, $selector);
        $this->forms->fill($this->tab, $selector);
        $quoted = Probe::json($selector);
        $button = $this->tab->evaluate("(() => { const found = document.querySelector({$quoted}); const form = found && (found.localName === 'form' ? found : found.closest('form')); const button = form && Array.from(form.elements).find((one) => one.type === 'submit' && !one.disabled && one.getClientRects().length > 0); button?.setAttribute('data-pellix-send', ''); if (form && !button) { form.requestSubmit(); } return button ? true : !!form; })()", true);
        if ($button !== true) {
            return "{$selector} is in no form";
        }
        if ($this->tab->evaluate('!!document.querySelector("[data-pellix-send]")', true) === true) {
            $element = $this->tab->element('[data-pellix-send]');
            $this->tab->evaluate('document.querySelector("[data-pellix-send]").removeAttribute("data-pellix-send")', true);
            $element->click();
        }

        return $this->afterwards();
    }

    /** @return list<array{string, list<int>}> what stands where on the page, as a short selector and a rectangle each */
    public function places(): array
    {
        return (array) $this->tab->evaluate('(() => { '.Probe::text('changes').'; return pellixChanges([]).places(); })()', true);
    }

    /** Away, the moment that there is something to lose: where what was done leads to another page, when our code runs there. */
    private function hurry(): void
    {
        $this->tab->attend(0.05);
        $isLeaving = array_filter($this->tab->watch->requests, static fn (array $one): bool => $one['type'] === 'Document' && $one['ended'] === null) !== [];
        if ($isLeaving) {
            $this->tab->settle(self::LOADS, 0.0);
            $this->stage->awaitRuntime($this->tab, 1.5);
        }
        $this->tab->evaluate('location.href = "about:blank"');
        $this->tab->attend(0.3);
    }

    /** What was done may lead to another page, or do something on this one. */
    private function afterwards(): ?string
    {
        if ($this->hurries) {
            $this->hurry();

            return null;
        }
        $this->tab->attend(0.1);
        $this->tab->settle(self::LOADS);
        $this->stage->awaitRuntime($this->tab, 1.5);

        return match (true) {
            $this->tab->hangs => 'the page hangs',
            $this->tab->watch->noted('crash') !== null => 'the page crashed',
            default => null,
        };
    }

    private function type(string $selector, string $text): null
    {
        $this->expecting->await($this->tab, $selector);
        $this->forms->type($this->tab, $selector, $text);

        return null;
    }

    private function choose(string $selector, string $option): ?string
    {
        $this->expecting->await($this->tab, $selector);
        $select = new WebDriverSelect($this->tab->element($selector));
        try {
            $select->selectByValue($option);
        } catch (NoSuchElementException) {
            try {
                $select->selectByVisibleText($option);
            } catch (NoSuchElementException) {
                return "{$selector} has no choice “{$option}”";
            }
        }

        return null;
    }

    private function scroll(Step $step): ?string
    {
        if ($step->element !== null) {
            $this->expecting->await($this->tab, $step->element);
            $found = $this->tab->evaluate('(() => { const one = document.querySelector('.Probe::json($step->element).'); one?.scrollIntoView({ block: "center", behavior: "instant" }); return !!one; })()', true);
            $this->tab->attend(0.2);

            return $found === true ? null : "there is no element {$step->element}";
        }
        $part = ((float) $step->amount) / 100;
        $this->tab->evaluate("window.scrollTo({ top: {$part} * (document.documentElement.scrollHeight - innerHeight), behavior: 'instant' })", true);
        $this->tab->attend(0.2);

        return null;
    }

    private function hover(string $selector): null
    {
        $this->expecting->await($this->tab, $selector);
        (new WebDriverActions($this->tab->driver()))->moveToElement($this->tab->element($selector))->perform();
        $this->tab->attend(0.2);

        return null;
    }

    private function newTab(): ?string
    {
        $url = $this->tab->address();
        $tab = $this->tab->another();
        $this->stage->visitors->connect($tab);
        $this->tab = $tab;

        return $this->open($url);
    }

    private function clearCookies(): null
    {
        $url = $this->stage->page();
        foreach ($this->tab->cookies($url) as $name => $cookie) {
            $this->tab->execute('Network.deleteCookies', ['name' => $name, 'url' => $url]);
            $this->tab->execute('Network.deleteCookies', ['name' => $name, 'domain' => $cookie['domain'], 'path' => $cookie['path']]);
        }

        return null;
    }

    /** @param list<string> $categories */
    private function consent(array $categories): null
    {
        $json = Probe::json($categories);
        if ($this->tab->evaluate("typeof window.pellix === 'function' && (window.pellix('consent', {$json}), true)") !== true) {
            $this->stage->visitors->give($this->tab, 'plx_consent', implode('.', $categories) ?: 'none');
        }
        $this->tab->attend(0.1);

        return null;
    }

    private static function inWords(WebDriverException $e, string $element): string
    {
        $message = strtok($e->getMessage(), "\n") ?: '';

        return match (true) {
            preg_match('/Other element would receive the click: (.+)\z/', $message, $m) === 1 => "{$element} cannot be clicked: ".mb_substr($m[1], 0, 150).' lies over it',
            str_contains($message, 'element not interactable') => "{$element} cannot be used: it is not shown",
            str_contains($message, 'invalid selector') => "{$element} is no selector",
            str_contains($message, 'stale element') => "{$element} was taken away while it was used",
            default => mb_substr($message, 0, 200),
        };
    }
}
