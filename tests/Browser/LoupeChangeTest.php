<?php

use Facebook\WebDriver\Interactions\WebDriverActions;
use Facebook\WebDriver\Remote\RemoteWebDriver;
use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Pellix\Core\Wiring\Snippet;
use Tests\Support\LoupeSteps;

pest()->use(LoupeSteps::class);

afterEach(fn () => array_map(unlink(...), glob(getenv('PELLIX_TEST_DATA').'/pasted.html')));

beforeEach(function () {
    // A draft for one page of the site, with a variant that changes nothing yet.
    $this->draft = function (RemoteWebDriver $desk, string $name, string $path): string {
        $made = $this->ask($desk, 'experiments', ['name' => $name, 'share' => 1, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => $path], 'variants' => [['key' => 'control', 'name' => 'As it is', 'weight' => 50, 'control' => true, 'changes' => []], ['key' => 'new', 'name' => 'New', 'weight' => 50, 'control' => false, 'changes' => []]], 'goals' => [['key' => 'joined']]]);

        return $made['key'] ?? throw new RuntimeException((string) json_encode($made));
    };
    $this->changing = function (RemoteWebDriver $desk, string $key, string $url): RemoteWebDriver {
        $browser = $this->visitor();
        $browser->get($this->address(['purpose' => 'change', 'experiment' => $key, 'variant' => 'new', 'url' => $url, 'hours' => 2], $desk));
        $this->find($browser, 'button[aria-pressed=true]', 'Point');

        return $browser;
    };
    // What a fresh visitor of each variant sees of a page.
    $this->seen = function (string $key, string $url, string $look): array {
        $seen = [];
        for ($i = 0; $i < 20 && count($seen) < 2; $i++) {
            $browser = $this->open();
            $browser->get($url);
            $variant = $this->await($browser, fn () => preg_match("/{$key}~([a-z0-9-]+)/", (string) $browser->manage()->getCookieNamed('plx_variants')?->getValue(), $m) === 1 ? $m[1] : null, 'the assignment');
            usleep(1_200_000);
            $seen[$variant] = $browser->executeScript($look);
            $browser->quit();
        }

        return $seen;
    };
});

it('makes a variant by mouse: words, a button, a block moved, one removed, and a banner; visitors of it see these, and no other does', function () {
    $desk = $this->signIn();
    $key = ($this->draft)($desk, 'Made by mouse', '/workshops');
    $browser = ($this->changing)($desk, $key, $this->demo().'/workshops');
    $desk->get($this->origin()."/sites/plx_larkhollowdemo01/experiments/{$key}/exposure");
    $this->see($desk, 'Change it on the page');

    $this->pointAt($browser, 'main h1');
    $this->find($browser, 'button', 'Type its text in place')->click();
    $this->find($browser, '.note', 'Type on the page');
    $browser->getKeyboard()->sendKeys('Learn with us');
    $browser->getKeyboard()->sendKeys(WebDriverKeys::ENTER);
    expect($this->changesListed($browser, 1)[0])->toContain('“Learn with us”');
    // In Pellix it is there within two seconds, in the same list.
    $this->await($desk, fn () => $desk->executeScript('return [...document.querySelectorAll("input")].some((one) => one.value === "Learn with us") || null;'), 'the change in Pellix', 2);

    $this->pointAt($browser, 'main .lead');
    $this->find($browser, 'button', 'Style…')->click();
    $this->find($browser, '.styles div', 'font-weight')->findElement(WebDriverBy::cssSelector('option[value="700"]'))->click();
    $this->changesListed($browser, 2);

    // Dragged to where it is to stand.
    $heading = $this->pointAt($browser, 'main h1');
    $lead = $browser->findElement(WebDriverBy::cssSelector('main .lead'));
    $height = $lead->getSize()->getHeight();
    (new WebDriverActions($browser))->clickAndHold($heading)->moveByOffset(0, 12)->moveToElement($lead, 0, intdiv($height, 2) - 3)->perform();
    $this->find($browser, '.drop');
    (new WebDriverActions($browser))->release()->perform();
    expect($this->changesListed($browser, 3)[2])->toContain('moved after');

    $this->pointAt($browser, 'footer a');
    $this->find($browser, 'button', 'Remove')->click();
    $this->changesListed($browser, 4);

    $this->pointAt($browser, 'main .lead');
    $this->find($browser, 'button', 'Insert…')->click();
    $this->find($browser, 'form textarea')->sendKeys('<p id="banner">Open on Sundays in December</p>');
    $this->find($browser, 'button', 'Keep this change')->click();
    $listed = $this->changesListed($browser, 5);
    expect($this->axe($browser))->toBe([]);

    // A step taken back and made again, over a page that is loaded anew in between.
    $this->find($browser, 'button', 'Undo')->click();
    $this->changesListed($browser, 4);
    $browser->navigate()->refresh();
    $this->find($browser, 'button:not([disabled])', 'Redo')->click();
    expect($this->changesListed($browser, 5))->toBe($listed);

    $look = 'const one = (css) => document.querySelector(css); return [one("main h1").textContent, getComputedStyle(one("main .lead")).fontWeight, one("main .lead").compareDocumentPosition(one("main h1")) & 4, document.querySelectorAll("footer a").length, one("#banner")?.textContent ?? null];';
    $plain = $browser->executeScript($look);
    expect($plain[0])->toBe('Learn with us')->and($plain[4])->toBe('Open on Sundays in December');
    expect($this->ask($desk, "experiments/{$key}/stage", ['action' => 'start', 'reason' => 'For a test'])['state'] ?? null)->toBe('running');
    $seen = ($this->seen)($key, $this->demo().'/workshops', $look);
    expect($seen['new'])->toBe($plain)->and($seen['control'][0])->not->toBe('Learn with us')->and($seen['control'][2])->toBe(0)->and($seen['control'][3])->toBe($plain[3] + 1)->and($seen['control'][4])->toBeNull();
    $this->ask($desk, "experiments/{$key}/stage", ['action' => 'end', 'reason' => 'It was for a test']);
});

it('makes the same by keyboard alone', function () {
    $desk = $this->signIn();
    $key = ($this->draft)($desk, 'Made by keys', '/catalogue-evening');
    $browser = ($this->changing)($desk, $key, $this->demo().'/catalogue-evening');
    $keys = fn (string ...$all) => $browser->getKeyboard()->sendKeys($all);
    // Tab until the focus is on a control of that name.
    $to = function (string $name) use ($browser, $keys): void {
        for ($i = 0; $i < 120; $i++) {
            $at = (string) $browser->executeScript('const one = document.querySelector("plx-loupe").shadowRoot.activeElement; return one === null || !one.matches("button, input, select, textarea") ? "" : (one.getAttribute("aria-label") ?? [...one.labels ?? []].map((label) => label.textContent).join(" ") + " " + one.textContent);');
            if (str_contains($at, $name)) {
                return;
            }
            $keys(WebDriverKeys::TAB);
        }
        $this->fail("No way to {$name} by keys.");
    };
    // From the beginning: the sheet has the focus when it is unfolded.
    $begin = function () use ($browser): void {
        foreach ([1, 2] as $ignored) {
            $browser->getKeyboard()->sendKeys([WebDriverKeys::ALT, WebDriverKeys::SHIFT, 'l']);
        }
    };
    $choose = function (string ...$arrows) use ($begin, $to, $keys): void {
        $begin();
        $to('Point');
        $keys(...$arrows);
        $keys(WebDriverKeys::ENTER);
    };
    // The first arrow goes to the main part of the page, the next into it.
    $choose(WebDriverKeys::ARROW_DOWN, WebDriverKeys::ARROW_DOWN);
    $first = $this->find($browser, 'section[aria-label="The chosen element"] h2')->getText();
    expect($first)->toContain('heading');
    $to('Text…');
    $keys(WebDriverKeys::ENTER);
    $to('New text');
    $keys(WebDriverKeys::CONTROL, 'a');
    $keys('By lamplight');
    $to('Keep this change');
    $keys(WebDriverKeys::ENTER);
    $this->changesListed($browser, 1);
    $to('After its neighbour');
    $keys(WebDriverKeys::ENTER);
    $this->changesListed($browser, 2);
    $to('Insert…');
    $keys(WebDriverKeys::ENTER);
    $to('HTML to put in');
    $keys('<p id="banner">Open late</p>');
    $to('Keep this change');
    $keys(WebDriverKeys::ENTER);
    $this->changesListed($browser, 3);
    $to('Style…');
    $keys(WebDriverKeys::ENTER);
    $to('(opacity)');
    $keys(WebDriverKeys::CONTROL, 'a');
    $keys('0.8', WebDriverKeys::ENTER);
    $this->changesListed($browser, 4);
    $choose(WebDriverKeys::ARROW_UP, WebDriverKeys::ARROW_RIGHT);
    $to('Remove');
    $keys(WebDriverKeys::ENTER);
    $listed = $this->changesListed($browser, 5);
    expect($listed[0])->toContain('“By lamplight”')->and($listed[1])->toContain('moved after')->and($listed[2])->toContain('inserted')->and($listed[3])->toContain('opacity: 0.8')->and($listed[4])->toContain('removed')
        ->and($browser->executeScript('return [document.querySelector("main h1").textContent, getComputedStyle(document.querySelector("main h1")).opacity, document.querySelector("#banner").textContent]'))->toBe(['By lamplight', '0.8', 'Open late']);
    // And back again.
    $begin();
    foreach (range(4, 0) as $left) {
        $to('Undo');
        $keys(WebDriverKeys::ENTER);
        $this->changesListed($browser, $left);
    }
});

it('changes a page with a strict policy, and an element that comes late', function () {
    $desk = $this->signIn();
    $key = ($this->draft)($desk, 'Strict and late', '/workbench');
    $nonced = str_replace('<script ', '<script nonce="n1" ', Snippet::loader('plx_larkhollowdemo01', $this->origin()));
    $policy = "script-src 'nonce-n1' {$this->origin()}; style-src 'nonce-n1'; connect-src {$this->origin()}; object-src 'none'";
    $late = '<script nonce="n1">setTimeout(() => document.querySelector("main").insertAdjacentHTML("beforeend", "<p id=late>It comes late</p>"), 800)</script>';
    file_put_contents(getenv('PELLIX_TEST_DATA').'/pasted.html', "<!DOCTYPE html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta http-equiv=\"Content-Security-Policy\" content=\"{$policy}\">{$nonced}<title>Workbench</title><style nonce=\"n1\">#go { color: #333 }</style></head><body><main><h1>Workbench</h1><p><button id=\"go\">Go</button></p><section id=\"old\"><p>Old news</p></section></main>{$late}</body></html>");
    $browser = ($this->changing)($desk, $key, $this->demo().'/workbench');
    $this->await($browser, fn () => $browser->findElement(WebDriverBy::id('late')), 'what comes late');
    $this->pointAt($browser, '#late');
    $this->find($browser, 'button', 'Type its text in place')->click();
    $this->find($browser, '.note', 'Type on the page');
    $browser->getKeyboard()->sendKeys(['Worth the wait', WebDriverKeys::ENTER]);
    $this->changesListed($browser, 1);
    // A button that would be pressed by the blanks that are typed into it.
    $this->pointAt($browser, '#go');
    $this->find($browser, 'button', 'Type its text in place')->click();
    $this->find($browser, '.note', 'Type on the page');
    $browser->getKeyboard()->sendKeys(['Go on then', WebDriverKeys::ENTER]);
    $this->changesListed($browser, 2);
    $this->find($browser, 'button', 'Style…')->click();
    $this->typeOver($browser, $this->find($browser, '.styles div', '(color)')->findElement(WebDriverBy::cssSelector('input.mono')), '#0000aa', WebDriverKeys::ENTER);
    $this->changesListed($browser, 3);
    $this->pointAt($browser, '#old p');
    $this->find($browser, 'button', 'Hide')->click();
    $this->changesListed($browser, 4);
    $this->pointAt($browser, 'main h1');
    $this->find($browser, 'button', 'Insert…')->click();
    $this->find($browser, 'form textarea')->sendKeys('<p id="banner">Open late</p>');
    $this->find($browser, 'button', 'Keep this change')->click();
    $this->changesListed($browser, 5);
    $this->pointAt($browser, '#late');
    $this->find($browser, 'button', 'Before its neighbour')->click();
    $this->changesListed($browser, 6);
    $browser->navigate()->refresh();
    $listed = $this->changesListed($browser, 6);
    $look = 'return [document.querySelector("#late")?.textContent, document.querySelector("#go").textContent, getComputedStyle(document.querySelector("#go")).color, document.querySelector("#old p").checkVisibility(), document.querySelector("#banner")?.textContent ?? null, document.querySelector("#late")?.nextElementSibling?.id ?? null];';
    $made = ['Worth the wait', 'Go on then', 'rgb(0, 0, 170)', false, 'Open late', 'old'];
    $this->await($browser, fn () => $browser->executeScript($look) === $made ?: null, 'the changes on the page');
    $this->await($browser, fn () => ! str_contains($this->said($browser), 'No element of this page') ?: null, 'nothing to be missing any more');
    expect($listed[1])->toContain('#go');
    expect($this->ask($desk, "experiments/{$key}/stage", ['action' => 'start', 'reason' => 'For a test'])['state'] ?? null)->toBe('running');
    $seen = ($this->seen)($key, $this->demo().'/workbench', $look);
    expect($seen['new'])->toBe($made)->and($seen['control'])->toBe(['It comes late', 'Go', 'rgb(51, 51, 51)', true, null, null]);
    $this->ask($desk, "experiments/{$key}/stage", ['action' => 'end', 'reason' => 'It was for a test']);
});

it('changes a view that an application has moved on to, once clicks are let through', function () {
    $desk = $this->signIn();
    $key = ($this->draft)($desk, 'A view of the desk', '/bench');
    $site = str_replace('larkhollow.localhost', 'desk.larkhollow.localhost', $this->demo());
    $browser = ($this->changing)($desk, $key, "{$site}/");
    // It is not for the view that the application begins with, and that is said.
    $this->find($browser, '[role=status]', 'The experiment is not met on this page');
    $this->find($browser, 'button', 'Interact')->click();
    $browser->findElement(WebDriverBy::cssSelector('[data-to="/bench"]'))->click();
    $this->await($browser, fn () => $browser->findElement(WebDriverBy::cssSelector('main h1'))->getText() === 'Which bench' ?: null, 'the next view');
    $this->find($browser, 'button', 'Point')->click();
    $this->pointAt($browser, 'main h1');
    $this->find($browser, 'button', 'Text…')->click();
    $this->typeOver($browser, $this->find($browser, 'form textarea'), 'Pick your bench');
    $this->find($browser, 'button', 'Keep this change')->click();
    $this->changesListed($browser, 1);
    expect($browser->findElement(WebDriverBy::cssSelector('main h1'))->getText())->toBe('Pick your bench');
    $this->find($browser, 'button', 'After its neighbour')->click();
    $this->changesListed($browser, 2);
    $this->pointAt($browser, 'main button');
    $this->find($browser, 'button', 'Style…')->click();
    $this->find($browser, '.styles div', '(font-weight)')->findElement(WebDriverBy::cssSelector('option[value="800"]'))->click();
    $this->changesListed($browser, 3);
    $this->pointAt($browser, 'footer');
    $this->find($browser, 'button', 'Remove')->click();
    $this->changesListed($browser, 4);
    expect($browser->executeScript('return [document.querySelector("main h1").previousElementSibling.localName, getComputedStyle(document.querySelector("main button")).fontWeight, document.querySelectorAll("footer").length];'))->toBe(['p', '800', 0]);
    // Back and on again: made where it belongs, and nowhere else.
    $this->find($browser, 'button', 'Interact')->click();
    $browser->navigate()->back();
    $this->await($browser, fn () => $browser->findElement(WebDriverBy::cssSelector('main h1'))->getText() === 'Book a bench' ?: null, 'the first view');
    expect($browser->findElements(WebDriverBy::cssSelector('footer')))->toHaveCount(1);
    $browser->navigate()->forward();
    $this->await($browser, fn () => $browser->findElement(WebDriverBy::cssSelector('main h1'))->getText() === 'Pick your bench' ?: null, 'the changed view');
});

it('tells two people who change one variant at the same time, and loses nothing of either', function () {
    $desk = $this->signIn();
    $key = ($this->draft)($desk, 'Two at once', '/hours');
    $one = ($this->changing)($desk, $key, $this->demo().'/hours');
    $two = ($this->changing)($desk, $key, $this->demo().'/hours');
    $words = function (RemoteWebDriver $browser, string $css, string $text): void {
        $this->pointAt($browser, $css);
        $this->find($browser, 'button', 'Text…')->click();
        $this->typeOver($browser, $this->find($browser, 'form textarea'), $text);
    };
    $words($one, 'main h1', 'When we are open');
    $words($two, 'footer', 'Nothing else');
    $this->find($one, 'button', 'Keep this change')->click();
    $this->find($two, 'button', 'Keep this change')->click();
    foreach ([$one, $two] as $browser) {
        $listed = $this->changesListed($browser, 2);
        expect(implode(' ', $listed))->toContain('When we are open')->toContain('Nothing else');
        $this->find($browser, '[role=status]', 'has changed this variant just now');
        $this->await($browser, fn () => $browser->findElement(WebDriverBy::cssSelector('main h1'))->getText() === 'When we are open' ?: null, 'what both have done');
    }
    // One takes back their own step, and the other's stays.
    $this->find($one, 'button', 'Undo')->click();
    expect($this->changesListed($one, 1)[0])->toContain('Nothing else');
    expect($this->changesListed($two, 1)[0])->toContain('Nothing else');
});

it('binds a change to phones, in a frame as wide as one', function () {
    $desk = $this->signIn();
    $key = ($this->draft)($desk, 'On phones', '/donate');
    $browser = ($this->changing)($desk, $key, $this->demo().'/donate');
    $this->find($browser, '[role=tab]', 'Try')->click();
    $this->find($browser, 'label', '390: phone')->click();
    $this->find($browser, 'iframe');
    $this->find($browser, '[role=tab]', 'Change')->click();
    $inFrame = function (string $script) use ($browser): mixed {
        return $this->await($browser, function () use ($browser, $script) {
            $browser->switchTo()->frame($this->find($browser, 'iframe'));
            try {
                return $browser->executeScript($script);
            } finally {
                $browser->switchTo()->defaultContent();
            }
        }, $script);
    };
    $inFrame('return document.querySelector("main h1") ? true : null');
    usleep(1_000_000);
    $browser->switchTo()->frame($this->find($browser, 'iframe'));
    (new WebDriverActions($browser))->moveToElement($browser->findElement(WebDriverBy::cssSelector('main h1')))->click()->perform();
    $browser->switchTo()->defaultContent();
    $this->find($browser, 'button', 'Style…')->click();
    $this->find($browser, 'section[aria-label=Style] option', 'phones: up to 600')->click();
    $this->find($browser, '.styles div', '(text-align)')->findElement(WebDriverBy::cssSelector('option[value="end"]'))->click();
    expect($this->changesListed($browser, 1)[0])->toContain('on screens up to 600 pixels wide');
    $inFrame('return getComputedStyle(document.querySelector("main h1")).textAlign === "end" ? true : null');
    // What it loses to is told of the page in the frame, by the rules that hold at its width.
    $this->find($browser, 'button', 'Style sheet…')->click();
    $this->find($browser, 'form textarea')->sendKeys(':where(h1) { color: rgb(1, 2, 3) }');
    $this->find($browser, 'button', 'Keep this change')->click();
    $this->changesListed($browser, 2);
    $this->find($browser, '.steps p.broken', 'color: rgb(1, 2, 3) loses to');
    $this->find($browser, '.steps p.broken', 'larkhollow.css, line');
    $this->find($browser, 'button', 'Undo')->click();
    $this->changesListed($browser, 1);
    // In a window that is wider nothing of it is made, and nothing is missing.
    $this->find($browser, '[role=tab]', 'Try')->click();
    $this->find($browser, 'label', 'This window')->click();
    $this->find($browser, '[role=tab]', 'Change')->click();
    $this->changesListed($browser, 1);
    usleep(1_500_000);
    expect($browser->executeScript('return getComputedStyle(document.querySelector("main h1")).textAlign'))->not->toBe('end')->and($this->said($browser))->not->toContain('No element of this page');
    $this->find($browser, 'button', 'Interact')->click();
    $browser->executeCustomCommand('/session/:sessionId/goog/cdp/execute', 'POST', ['cmd' => 'Emulation.setDeviceMetricsOverride', 'params' => ['width' => 560, 'height' => 800, 'deviceScaleFactor' => 1, 'mobile' => false]]);
    $this->await($browser, fn () => $browser->executeScript('return getComputedStyle(document.querySelector("main h1")).textAlign === "end" || null'), 'the change in a narrow window');
});

it('makes goals of elements, and has visitors’ browsers tell what was seen', function () {
    $desk = $this->signIn();
    $key = ($this->draft)($desk, 'Goals of the page', '/about');
    $browser = ($this->changing)($desk, $key, $this->demo().'/workshops');
    $goal = function (string $css, string $kind, string $name) use ($browser): void {
        $this->pointAt($browser, $css);
        $this->find($browser, 'button', 'Make it a goal…')->click();
        $this->find($browser, 'form label.choice', $kind)->click();
        $this->typeOver($browser, $this->find($browser, 'form[aria-label=Goal] input:not([type])'), $name);
        $this->find($browser, 'form button', 'Make it a goal')->click();
        $this->find($browser, '.note', "“{$name}” is a goal of the experiment.");
    };
    $goal('header nav a', 'It is clicked', 'Went elsewhere');
    $goal('main .lead', 'It is seen', 'Read the lead');
    $goals = $this->ask($desk, "experiments/{$key}", [], 'GET')['goals'];
    expect(array_column($goals, 'role', 'key'))->toBe(['joined' => 'primary', 'went-elsewhere' => 'secondary', 'read-the-lead' => 'secondary'])->and(array_column($goals, 'kind', 'key')['read-the-lead'])->toBe('seen');
    // An ordinary visitor, from now on.
    $visitor = $this->open();
    $visitor->get($this->demo().'/workshops');
    $this->await($visitor, fn () => $visitor->executeScript('return window.pellix?.running || null'), 'the runtime');
    usleep(2_500_000);
    $visitor->get('about:blank');
    $seen = $this->await($desk, fn () => $this->scalar("select props from events where name = 'area_seen' order by time desc limit 1") ?: null, 'what was seen', 20);
    expect(json_decode($seen, true)['area'])->toContain('.lead');
});

it('changes a copy of a page that has no snippet yet', function () {
    $desk = $this->signIn();
    $key = ($this->draft)($desk, 'On a copy', '/workshops');
    $desk->get($this->origin()."/sites/plx_larkhollowdemo01/experiments/{$key}/exposure");
    // The copy is Pellix's own page, which is shown to whoever is signed in.
    $browser = $this->signIn(browser: $this->visitor());
    $made = $this->address(['purpose' => 'change', 'experiment' => $key, 'variant' => 'new', 'url' => $this->demo().'/workshops', 'hours' => 2], $desk);
    // As the button in Pellix leads there.
    $browser->executeScript('location.href = arguments[0];', [$this->origin().'/sites/plx_larkhollowdemo01/loupe-copy?url='.urlencode($this->demo().'/workshops').'#'.parse_url($made, PHP_URL_FRAGMENT)]);
    $this->find($browser, '.who', 'on a copy of');
    // It has no storage, no cookies and no way to Pellix's own.
    expect($browser->executeScript('try { return String(localStorage.length); } catch (error) { return error.name; }'))->toBe('SecurityError')->and($browser->executeScript('return self.origin'))->toBe('null');
    $this->pointAt($browser, 'main h1');
    $this->find($browser, 'button', 'Type its text in place')->click();
    $this->find($browser, '.note', 'Type on the page');
    $browser->getKeyboard()->sendKeys(['Learn here', WebDriverKeys::ENTER]);
    expect($this->changesListed($browser, 1)[0])->toContain('“Learn here”');
    expect($browser->findElement(WebDriverBy::cssSelector('main h1'))->getText())->toBe('Learn here');
    // What a link leads to is left to the page itself; the copy lasts over a reload.
    $this->find($browser, 'button', 'Interact')->click();
    $at = $browser->getCurrentURL();
    $browser->findElement(WebDriverBy::cssSelector('footer a'))->click();
    expect($browser->getCurrentURL())->toBe($at);
    $browser->navigate()->refresh();
    $this->changesListed($browser, 1);
    $this->await($desk, fn () => $desk->executeScript('return [...document.querySelectorAll("input")].some((one) => one.value === "Learn here") || null;'), 'the change in Pellix', 5);
    expect($this->axe($browser))->toBe([]);
});
