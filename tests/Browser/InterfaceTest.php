<?php

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;

const BENCH = '/sites/plx_larkhollowdemo01/bench';

it('says why signing in failed, and comes back to where one wanted to go', function () {
    $browser = $this->open();
    $browser->get($this->origin().'/sites/plx_larkhollowdemo01/wiring');
    expect($this->axe($browser))->toBe([]);
    $this->fill($browser, 'E-mail address', 'ines@larkhollow.example');
    $this->fill($browser, 'Password', 'wrong');
    $this->press($browser, 'Sign in');
    $this->see($browser, 'No account has this e-mail address with this password.');
    $this->fill($browser, 'Password', (string) getenv('PELLIX_TEST_PASSWORD'));
    $this->press($browser, 'Sign in');
    $this->see($browser, 'Copy the snippet');
    expect($browser->getCurrentURL())->toEndWith('/wiring');
});

it('has no serious fault that axe can find', function (string $path, string $text) {
    $browser = $this->signIn();
    $browser->get($this->origin()."/sites/plx_larkhollowdemo01{$path}");
    $this->see($browser, $text);
    expect($this->axe($browser))->toBe([]);
})->with([
    ['/bench', 'A heading that invites'],
    ['/wiring', 'Copy the snippet'],
    ['/wiring/inspect', 'HTML of the page'],
    ['/wiring/tags', 'Published versions'],
    ['/wiring/coverage', 'larkhollow'],
    ['/wiring/groups', 'Keep the groups'],
    ['/wiring/briefs', 'Hand the job'],
    ['/experiments/new', 'Make the draft'],
    ['/experiments/workshop-invite', 'Nothing is open.'],
    ['/experiments/workshop-invite/page', 'known pages match'],
    ['/experiments/workshop-invite/entry', 'are eligible'],
    ['/experiments/workshop-invite/split', 'visitors a week'],
    ['/experiments/workshop-invite/exposure', 'matches 1'],
    ['/experiments/workshop-invite/goals', 'It has counted'],
    ['/experiments/workshop-invite/data', 'Planned run in days'],
    ['/experiments/catalogue-heading', 'Mismatch'],
    ['/experiments/catalogue-heading/split', 'The arithmetic'],
    ['/experiments/donate-amounts/page', 'No page that was seen matches'],
]);

it('holds the width of a phone', function (string $path, string $text) {
    $browser = $this->signIn(390);
    $browser->get($this->origin()."/sites/plx_larkhollowdemo01{$path}");
    $this->see($browser, $text);
    expect($browser->executeScript('return document.documentElement.scrollWidth'))->toBeLessThanOrEqual(390)
        ->and($this->axe($browser))->toBe([]);
})->with([['/bench', 'A heading that invites'], ['/experiments/catalogue-heading', 'Mismatch'], ['/experiments/new', 'Make the draft'], ['/experiments/workshop-invite/exposure', 'matches 1'], ['/wiring', 'Copy the snippet']]);

it('shows each mistake at its field and loses nothing that was typed', function () {
    $browser = $this->signIn();
    $browser->get($this->origin().'/sites/plx_larkhollowdemo01/experiments/new');
    $this->fill($browser, 'Elements (CSS selector)', 'h1 >');
    $this->fill($browser, 'New text', 'This stays.');
    $this->fill($browser, 'Path', 'https://elsewhere.test/join');
    $this->press($browser, 'Make the draft');
    $this->see($browser, 'Give the experiment a name.');
    $this->see($browser, 'The browser does not know this as a CSS selector.');
    $this->see($browser, "The host elsewhere.test is none of this site's");
    $this->see($browser, 'fields need another look: ');
    expect($this->axe($browser))->toBe([])->and($this->field($browser, 'New text')->getAttribute('value'))->toBe('This stays.');

    // What the browser cannot know, the server says at the same place.
    $this->fill($browser, 'Name', 'Say what the next step is');
    $this->fill($browser, 'Elements (CSS selector)', 'h1');
    $this->fill($browser, 'Path', 'join');
    $this->press($browser, 'Make the draft');
    $this->see($browser, 'A path begins with "/"');

    // Leaving asks first.
    $this->press($browser, 'Bench');
    $this->see($browser, 'Leave without keeping this?');
    $this->press($browser, 'Leave it as it is');
    expect($this->field($browser, 'New text')->getAttribute('value'))->toBe('This stays.');
});

it('is driven by the keyboard', function () {
    $browser = $this->signIn();
    $this->see($browser, 'A heading that invites');
    $keys = fn (string ...$keys) => $browser->getKeyboard()->sendKeys($keys);
    $keys('j');
    $keys('j');
    $keys(WebDriverKeys::ENTER);
    $this->see($browser, 'Whole chain');
    $keys(']');
    $keys(']');
    $this->await($browser, fn () => str_ends_with($browser->getCurrentURL(), '/snippet') ?: null, 'the Snippet link');
    $keys('[');
    $this->await($browser, fn () => str_ends_with($browser->getCurrentURL(), '/page') ?: null, 'the Page link');
    $browser->getKeyboard()->sendKeys([WebDriverKeys::CONTROL, 'k']);
    $this->see($browser, 'command');
    $browser->switchTo()->activeElement()->sendKeys('fewer words');
    $this->see($browser, 'instrument-ask');
    $browser->switchTo()->activeElement()->sendKeys(WebDriverKeys::ARROW_DOWN)->sendKeys(WebDriverKeys::ENTER);
    $this->await($browser, fn () => str_contains($browser->getCurrentURL(), '/experiments/') ?: null, 'an experiment');
    $keys('g');
    $keys('b');
    $this->await($browser, fn () => str_ends_with($browser->getCurrentURL(), BENCH) ?: null, 'the Bench');
    $keys('?');
    $this->see($browser, 'Keyboard shortcuts');
    expect($this->axe($browser))->toBe([]);
});

it('copies exactly the snippet that a page then runs with', function () {
    $browser = $this->signIn();
    $browser->executeScript('navigator.clipboard.writeText = (text) => { window.copied = text; return Promise.resolve(); }');
    $this->press($browser, 'Wiring');
    $this->see($browser, 'Copy the snippet');
    $this->press($browser, 'Copy the snippet');
    $this->see($browser, 'Copied');
    $copied = $browser->executeScript('return window.copied');
    $visitor = $this->open();
    $visitor->get($this->demo().'/join');
    expect($copied)->toStartWith('<script data-pellix="plx_larkhollowdemo01">')
        ->and($visitor->executeScript('return document.querySelector("script[data-pellix]").outerHTML'))->toBe($copied);
});

it('inspects pasted HTML and shows it as text only', function () {
    $browser = $this->signIn();
    $browser->get($this->origin().'/sites/plx_larkhollowdemo01/wiring/inspect');
    $this->press($browser, 'Inspect');
    $this->see($browser, 'Paste the HTML of the page, choose a file, or type an address above.');
    $this->fill($browser, 'Address', $this->demo().'/repairs/head-ended-early');
    $this->press($browser, 'Inspect');
    $this->see($browser, 'snippet.in-body');
    $this->fill($browser, 'Address', ' ');
    $this->fill($browser, 'Or the HTML of the page', '<p>x</p><!-- <script data-pellix="plx_larkhollowdemo01"><img src=x onerror="window.harmed = 1"></script> -->');
    $this->press($browser, 'Inspect');
    $this->see($browser, 'The wiring does not work on this page as it stands.');
    $this->see($browser, 'snippet.commented-out');
    $this->see($browser, '<img src=x onerror=');
    expect($browser->executeScript('return window.harmed ?? null'))->toBeNull()->and($this->axe($browser))->toBe([]);
});

it('ends, after asking, and takes nobody in afterwards', function () {
    $browser = $this->signIn();
    $browser->get($this->origin().'/sites/plx_larkhollowdemo01/experiments/instrument-ask');
    $this->press($browser, 'End');
    $this->see($browser, 'cannot be started again');
    $this->press($browser, 'Leave it as it is');
    $this->press($browser, 'End');
    $this->see($browser, 'cannot be started again');
    $this->press($browser, 'End');
    $this->see($browser, 'ended');
    $visitor = $this->open();
    $visitor->get($this->demo().'/catalogue/harrow-flute');
    $this->await($visitor, fn () => $visitor->manage()->getCookieNamed('plx_visitor'), 'the runtime');
    expect($visitor->findElement(WebDriverBy::id('borrow'))->getText())->toBe('Ask for this instrument');
});
