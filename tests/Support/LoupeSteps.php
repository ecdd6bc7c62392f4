<?php

declare(strict_types=1);

namespace Tests\Support;

use Facebook\WebDriver\Interactions\WebDriverActions;
use Facebook\WebDriver\Remote\RemoteExecuteMethod;
use Facebook\WebDriver\Remote\RemoteWebDriver;
use Facebook\WebDriver\Remote\RemoteWebElement;
use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use RuntimeException;

/** What is done in browser tests with the Loupe. */
trait LoupeSteps
{
    /**
     * What somebody asks of the API who is signed in.
     *
     * @param array<string, mixed> $body
     *
     * @return array<string, mixed>
     */
    protected function ask(RemoteWebDriver $desk, string $path, array $body, string $method = 'POST'): array
    {
        return (array) $desk->executeAsyncScript(<<<'JS'
            const [path, body, method, done] = arguments;
            const token = decodeURIComponent(/XSRF-TOKEN=([^;]*)/.exec(document.cookie)[1]);
            fetch('/api/sites/plx_larkhollowdemo01/' + path, { method, headers: { 'Content-Type': 'application/json', Accept: 'application/json', 'X-XSRF-TOKEN': token }, body: method === 'GET' ? undefined : JSON.stringify(body) })
                .then((answer) => answer.json()).then(done);
            JS, [$path, $body, $method]);
    }

    /**
     * A link to the Loupe.
     *
     * @param array<string, mixed> $asked
     */
    protected function address(array $asked, ?RemoteWebDriver $desk = null): string
    {
        $made = $this->ask($desk ?? $this->signIn(), 'loupe-links', ['experiment' => 'loan-steps', 'recipient' => 'A colleague', 'hours' => 24, 'url' => $this->demo().'/loan', ...$asked]);

        return $made['address'] ?? throw new RuntimeException((string) json_encode($made));
    }

    /** A visitor's browser in which the Loupe's root can be looked into: for everybody else it is closed. */
    protected function visitor(): RemoteWebDriver
    {
        $browser = $this->open();
        $browser->executeCustomCommand('/session/:sessionId/goog/cdp/execute', 'POST', ['cmd' => 'Page.addScriptToEvaluateOnNewDocument', 'params' => ['source' => 'const attach = Element.prototype.attachShadow; Element.prototype.attachShadow = function (how) { return attach.call(this, { ...how, mode: "open" }); };']]);

        return $browser;
    }

    /** Something in the Loupe, once it is there. */
    protected function find(RemoteWebDriver $browser, string $css, string $text = ''): RemoteWebElement
    {
        return $this->await($browser, function () use ($browser, $css, $text): ?RemoteWebElement {
            $found = $browser->executeScript('const [css, text] = arguments; return [...document.querySelector("plx-loupe")?.shadowRoot?.querySelectorAll(css) ?? []].find((one) => one.textContent.includes(text)) ?? null;', [$css, $text]);

            return is_array($found) ? new RemoteWebElement(new RemoteExecuteMethod($browser), (string) current($found), true) : null;
        }, "{$css} {$text} in the Loupe", 20);
    }

    protected function said(RemoteWebDriver $browser): string
    {
        return (string) $browser->executeScript('return document.querySelector("plx-loupe")?.shadowRoot?.textContent ?? "";');
    }

    /** Points at an element of the page with the mouse, and clicks it. */
    protected function pointAt(RemoteWebDriver $browser, string $css): RemoteWebElement
    {
        $element = $browser->findElement(WebDriverBy::cssSelector($css));
        $browser->executeScript('arguments[0].scrollIntoView({ block: "center", behavior: "instant" }); return null;', [$element]);
        (new WebDriverActions($browser))->moveToElement($element)->click()->perform();
        $this->find($browser, 'section[aria-label="The chosen element"]');

        return $element;
    }

    /** Types in the place of what a field of the Loupe has. */
    protected function typeOver(RemoteWebDriver $browser, RemoteWebElement $field, string ...$keys): void
    {
        $field->sendKeys([WebDriverKeys::CONTROL, 'a']);
        // Not to the field: the driver would give it the focus anew, and end the selection.
        $browser->getKeyboard()->sendKeys($keys);
    }

    /** @return list<string> the changes that the Loupe lists, once it lists so many and Pellix has kept them */
    protected function changesListed(RemoteWebDriver $browser, int $count): array
    {
        return $this->await($browser, function () use ($browser, $count): ?array {
            $listed = (array) $browser->executeScript('return [...document.querySelector("plx-loupe").shadowRoot.querySelectorAll(".steps .what")].map((one) => one.innerText);');

            return count($listed) === $count && str_contains($this->said($browser), 'Kept in the draft.') ? array_values($listed) : null;
        }, "{$count} changes in the Loupe");
    }
}
