<?php

use Facebook\WebDriver\Remote\RemoteWebDriver;
use Facebook\WebDriver\WebDriverBy;

/** Adds a change of a kind to the variant that is written, and fills its fields. */
function addChange(Tests\Support\BrowserTestCase $test, RemoteWebDriver $desk, int $number, string $kind, array $fields, ?string $place = null): void
{
    (function () use ($desk, $number, $kind, $fields, $place): void {
        $number > 1 && $this->press($desk, 'Add a change');
        if ($kind !== 'Text') {
            $this->choose($desk, "Variant 1, change {$number}: kind: Text", $kind);
        }
        if ($place !== null) {
            $this->choose($desk, "Variant 1, change {$number}: place: before it", $place);
        }
        $group = $this->await($desk, fn () => $desk->findElement(WebDriverBy::cssSelector("[aria-label='Variant 1, change {$number}']")), "change {$number}");
        foreach ($fields as $label => $text) {
            $for = $group->findElement(WebDriverBy::xpath(".//label[normalize-space()='{$label}']"))->getAttribute('for');
            $desk->findElement(WebDriverBy::id((string) $for))->sendKeys($text);
        }
    })->call($test);
}

it('makes every kind of change that the interface offers, keeps them up, and takes them back', function () {
    $desk = $this->signIn();
    $this->press($desk, 'Make an experiment');
    $this->fill($desk, 'Name', 'Every kind');
    $this->fill($desk, 'Path', '/catalogue/quill-dulcimer');
    foreach ([
        ['Text', ['Elements (CSS selector)' => 'main h1', 'New text' => 'Who <we> are']],
        ['HTML inside', ['Elements (CSS selector)' => '.lead', 'HTML inside it' => 'Eleven <em id="em">violins</em>.']],
        ['Attribute', ['Elements (CSS selector)' => '#borrow', 'Attribute' => 'href', 'Value (empty takes it off)' => '/catalogue']],
        ['Style', ['Elements (CSS selector)' => 'main', 'Property' => 'letter-spacing', 'Value' => '1px']],
        ['Classes', ['Elements (CSS selector)' => '.lead', 'Add' => 'one two', 'Take off' => 'lead']],
        ['Hide', ['Elements (CSS selector)' => 'nav a[href="/join"]']],
        ['Remove', ['Elements (CSS selector)' => 'nav a[href="/donate"]']],
        ['Move', ['Elements (CSS selector)' => 'nav a[href="/workshops"]', 'of the element' => 'nav a']],
        ['Insert HTML', ['Elements (CSS selector)' => 'main', 'HTML' => '<p id="note">New</p>'], 'last inside it'],
        ['Style sheet', ['Style sheet' => '#note { color: rgb(1, 2, 3) }']],
        ['Script', ['Script (runs once)' => 'window.ran = (window.ran || 0) + 1; throw new Error("script of ours")']],
        ['Text', ['Elements (CSS selector)' => '.late', 'New text' => 'in time']],
    ] as $i => $one) {
        addChange($this, $desk, $i + 1, ...$one);
        if ($i === 0) {
            $this->press($desk, 'Make the draft');
            $this->see($desk, 'Everything is kept.');
            $this->link($desk, 'exposure');
        }
    }
    $this->kept($desk);
    $this->see($desk, 'main h1 matches 1');
    // Nothing lies under the bar that stays in view.
    $desk->executeScript('window.scrollTo(0, 0); return null;');
    expect($this->axe($desk))->toBe([]);
    $this->link($desk, 'split');
    $this->fill($desk, 'Weight', '0');
    $this->await($desk, fn () => $this->field($desk, 'Weight', 1)->getAttribute('value') === '100' ?: null, 'the other weight to follow');
    $this->startWithGoal($desk, 'Every kind', 'Thanked', '/donate/thanks');
    $this->see($desk, 'Nothing has been received from this experiment.');

    $visitor = $this->open();
    $visitor->get($this->demo().'/catalogue/quill-dulcimer');
    $js = fn (string $code): mixed => $visitor->executeScript("return {$code}");
    $this->await($visitor, fn () => $js('window.ran ? 1 : null'), 'the changes');
    $look = fn (): array => [
        $js('document.querySelector("main h1").textContent'), $js('document.querySelector("main h1 + p").innerHTML'), $js('document.querySelector("main h1 + p").className'),
        $js('document.querySelector("#borrow").getAttribute("href")'), $js('getComputedStyle(document.querySelector("main")).letterSpacing'),
        $js('getComputedStyle(document.querySelector("nav a[href=\"/join\"]")).display'), $js('document.querySelectorAll("nav a[href=\"/donate\"]").length'),
        $js('document.querySelector("nav a").getAttribute("href")'), $js('document.querySelector("main").lastElementChild.id'), $js('getComputedStyle(document.querySelector("#note")).color'), $js('window.ran'),
    ];
    $made = ['Who <we> are', 'Eleven <em id="em">violins</em>.', 'one two', '/catalogue', '1px', 'none', 0, '/workshops', 'note', 'rgb(1, 2, 3)', 1];
    expect($look())->toBe($made);

    // The page draws its main part anew, as frameworks do; then something appears late.
    $js('(document.querySelector("main").innerHTML = "<h1>About</h1><p class=lead>x</p><p>y <a id=borrow href=/loan>z</a></p>")');
    expect($look())->toBe($made);
    $js('document.body.insertAdjacentHTML("beforeend", "<p class=late>late</p>")');
    expect($js('document.querySelector(".late").textContent'))->toBe('in time');

    // A single-page application moves on.
    $js('history.pushState({}, "", "/hours")');
    $this->await($visitor, fn () => $js('document.querySelector("main h1").textContent') === 'About' ?: null, 'the page as it was');
    expect($js('document.querySelector("main h1 + p").outerHTML'))->toBe('<p class="lead">x</p>')->and($js('document.querySelectorAll("#note").length'))->toBe(0)
        ->and($js('document.querySelector("nav").textContent.replace(/\\s+/g, " ").trim()'))->toBe('Catalogue Borrow Workshops Join Donate')->and($js('document.querySelector("nav a").getAttribute("href")'))->toBe('/catalogue')
        ->and($js('getComputedStyle(document.querySelector("nav a[href=\"/join\"]")).display'))->not->toBe('none')->and($js('document.querySelector(".late").textContent'))->toBe('late');
    $visitor->get('about:blank');
    $this->await($visitor, fn () => $this->scalar('select json_value(props, "$.message") from events where name = "change_failed" and experiment = "every-kind"') ?: null, 'the error');
    expect($this->scalar('select json_value(props, "$.message") from events where name = "change_failed" and experiment = "every-kind"'))->toContain('script of ours')
        ->and((int) $this->scalar('select json_value(props, "$.change") from events where name = "change_failed" and experiment = "every-kind"'))->toBe(11)
        ->and((int) $this->scalar('select count(*) from events where name = "change_applied" and experiment = "every-kind"'))->toBe(1);
});

it('starts wherever an element is, for those whom the audience names, with one variant on all pages', function () {
    $desk = $this->signIn();
    $this->press($desk, 'Make an experiment');
    $this->fill($desk, 'Name', 'Menu');
    $this->fill($desk, 'Path', '/');
    $this->fill($desk, 'Elements (CSS selector)', 'header nav a:first-child');
    $this->fill($desk, 'New text', 'All we lend');
    $this->press($desk, 'Make the draft');
    $this->see($desk, 'Everything is kept.');
    $this->link($desk, 'page');
    $this->choose($desk, 'Starts: starts as soon as the page is opened', 'starts wherever an element is');
    $this->fill($desk, 'Elements (CSS selector)', 'header nav');
    $this->choose($desk, 'Path: how it compares: is exactly', 'starts with');
    // Known pages that have the element, of those that were inspected: all but the one that carries no menu of ours would do.
    $this->await($desk, fn () => (int) $this->text($desk, '[data-figure=carrying]') > 5 ?: null, 'the pages that carry the menu', 40);
    $this->link($desk, 'entry');
    $this->choose($desk, 'Who may enter: everybody who views the page', 'only visitors of whom this holds');
    $this->choose($desk, 'Condition 1: value: mobile', 'desktop');
    $this->fill($desk, 'Group', 'menus');
    $this->kept($desk);
    $desk->findElement(WebDriverBy::xpath("//summary[normalize-space()='Try it on a visitor']"))->click();
    $this->choose($desk, 'Device: not said', 'mobile');
    $this->press($desk, 'Try');
    $this->see($desk, 'does not: device is mobile, wanted desktop');
    expect($this->axe($desk))->toBe([]);
    $this->link($desk, 'split');
    $this->fill($desk, 'Weight', '0');
    $this->startWithGoal($desk, 'Menu', 'Thanked by menu', '/donate/thanks');
    $desk->get($this->origin().'/sites/plx_larkhollowdemo01/experiments/menu/entry');
    $this->see($desk, 'Group menus: its part is from 0.0 % to 100.0 % of all');
    $this->see($desk, 'device is exactly desktop');

    $visitor = $this->open();
    foreach (['/join', '/hours', '/donate/thanks'] as $path) {
        $visitor->get($this->demo().$path);
        $this->await($visitor, fn () => $this->text($visitor, 'header nav a') === 'All we lend' ?: null, "the menu of {$path}");
    }
    $id = $visitor->manage()->getCookieNamed('plx_visitor')->getValue();
    $visitor->get('about:blank');
    $this->await($desk, fn () => (int) $this->scalar('select count(*) from events where visitor = ? and name = "exposure" and experiment = "menu"', $id) === 3 ?: null, 'three exposures');
    expect((int) $this->scalar('select count(distinct variant) from events where visitor = ? and experiment = "menu"', $id))->toBe(1);

    // What the audience does not name does not enter: a phone.
    $phone = $this->open();
    $phone->executeCustomCommand('/session/:sessionId/goog/cdp/execute', 'POST', ['cmd' => 'Emulation.setUserAgentOverride', 'params' => ['userAgent' => 'Mozilla/5.0 (iPhone; CPU iPhone OS 17_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.0 Mobile/15E148 Safari/604.1']]);
    $phone->get($this->demo().'/join');
    $this->await($phone, fn () => $phone->executeScript('return window.pellix && window.pellix.running') ?: null, 'the runtime');
    expect($this->text($phone, 'header nav a'))->toBe('Catalogue');
});

it('lets in whom the audience names by language, earlier visits, the data layer and the address', function () {
    $desk = $this->signIn();
    $this->press($desk, 'Make an experiment');
    $this->fill($desk, 'Name', 'Members who return');
    $this->fill($desk, 'Path', '/hours');
    $this->fill($desk, 'Elements (CSS selector)', 'main h1');
    $this->fill($desk, 'New text', 'Welcome back');
    $this->press($desk, 'Make the draft');
    $this->see($desk, 'Everything is kept.');
    $this->link($desk, 'entry');
    $this->choose($desk, 'Who may enter: everybody who views the page', 'only visitors of whom this holds');
    $this->choose($desk, 'Condition 1: what: device', 'language');
    $this->fill($desk, 'Condition 1: value', 'de');
    $this->press($desk, 'Add a condition');
    $this->choose($desk, 'Condition 2: what: path', 'been here before');
    $this->press($desk, 'Add a condition');
    $this->choose($desk, 'Condition 3: what: path', 'data layer');
    $this->fill($desk, 'Condition 3: name', 'member');
    $this->fill($desk, 'Condition 3: value', 'gold');
    $this->press($desk, 'Add a condition');
    $this->choose($desk, 'Condition 4: what: path', 'query parameter');
    $this->fill($desk, 'Condition 4: name', 'utm_source');
    $this->fill($desk, 'Condition 4: value', 'letter');
    $this->kept($desk);
    // Recorded events do not tell all of that, and nobody guesses.
    $this->see($desk, 'recorded events do not hold language, been here before, data layer member');
    $this->link($desk, 'split');
    $this->fill($desk, 'Weight', '0');
    $this->startWithGoal($desk, 'Members who return', 'Thanked as members', '/donate/thanks');

    $cdp = fn ($browser, string $command, array $params) => $browser->executeCustomCommand('/session/:sessionId/goog/cdp/execute', 'POST', ['cmd' => $command, 'params' => $params]);
    foreach ([['de', 'gold', true, 'letter'], ['en', 'gold', true, 'letter'], ['de', 'tin', true, 'letter'], ['de', 'gold', false, 'letter'], ['de', 'gold', true, 'post']] as [$language, $member, $returns, $source]) {
        $visitor = $this->open();
        $cdp($visitor, 'Page.addScriptToEvaluateOnNewDocument', ['source' => "Object.defineProperty(navigator, 'language', { get: () => '{$language}' }); window.shelf = [{ member: '{$member}' }]"]);
        foreach ($returns ? ['/join', '/hours'] : ['/hours'] as $path) {
            $visitor->get($this->demo()."{$path}?utm_source={$source}");
            $this->await($visitor, fn () => $visitor->executeScript('return window.pellix && window.pellix.running') ?: null, 'the runtime');
        }
        expect($this->text($visitor, 'main h1') === 'Welcome back')->toBe([$language, $member, $returns, $source] === ['de', 'gold', true, 'letter']);
        $visitor->quit();
    }
});

it('says of scripts what is wrong with them, and lets none out into the page', function (string $code, ?string $message) {
    $visitor = $this->open();
    $visitor->get($this->demo().'/catalogue/quill-dulcimer');
    $visitor->executeScript('window.errors = []; addEventListener("error", (e) => errors.push(e.message)); return null');
    // The very module that the runtime is built from, in a real browser.
    $module = (new Symfony\Component\Process\Process(['node_modules/.bin/rolldown', 'runtime/src/optional/script.ts', '--format', 'iife'], dirname(__DIR__, 2)))->mustRun()->getOutput();
    $said = $visitor->executeScript("{$module}; return window.pellixSite.parts.script(arguments[0])", [$code]);
    $message === null ? expect($said)->toBeNull() : expect((string) $said)->toContain($message);
    // What is no script at all is the one error that a browser tells the page of, whoever wrote it.
    expect($visitor->executeScript('return errors'))->toHaveCount($message === 'SyntaxError' ? 1 : 0);
})->with([
    ['let a = 1; if (a) { return }', null], ['throw new Error("boom")', 'boom'], ['this is no script', 'SyntaxError'], ['} evil(); {', 'SyntaxError'], ['null.x', 'TypeError'],
    ['window.fetch = () => 1', 'in place of fetch'], ['const end = Date.now() + 1100; while (Date.now() < end);', 'kept the page waiting'], ['undefined_name()', 'undefined_name'], ['// a comment', null],
]);
