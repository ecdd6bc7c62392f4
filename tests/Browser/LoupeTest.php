<?php

use Facebook\WebDriver\Interactions\WebDriverActions;
use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Tests\Support\LoupeSteps;

pest()->use(LoupeSteps::class);

it('shows a preview to somebody without an account, and touches nothing of their own', function () {
    $address = $this->address(['purpose' => 'preview', 'variant' => null]);
    $before = $this->scalar('select count(*) from events');
    $browser = $this->visitor();
    // Somebody who has been here, as an ordinary visitor.
    $browser->get($this->demo().'/loan');
    $this->await($browser, fn () => $browser->manage()->getCookieNamed('plx_variants'), 'the assignment', 10);
    $this->await($browser, fn () => $this->scalar('select count(*) from events') > $before ?: null, 'their events', 10);
    expect($browser->executeScript('return performance.getEntriesByType("resource").filter(({ name }) => name.includes("loupe")).length + document.querySelectorAll("plx-loupe").length'))->toBe(0);
    $heading = $browser->executeScript('return JSON.stringify(document.querySelector("main h1").getBoundingClientRect())');
    $browser->get('about:blank');
    usleep(1_500_000);
    $mine = fn (): string => (string) $browser->executeScript('return document.cookie + JSON.stringify({ ...localStorage })');
    $browser->get($this->demo().'/about');
    $browser->get('about:blank');
    usleep(1_500_000);
    $counted = $this->scalar('select count(*) from events');

    $browser->get($address);
    $this->find($browser, 'legend', 'Say what the next step is');
    expect($browser->getCurrentURL())->toBe($this->demo().'/loan');
    $real = $mine();
    // What is new is shown first; any variant is a choice away.
    expect($this->await($browser, fn () => $browser->findElement(WebDriverBy::id('next'))->getText() === 'Choose a day' ?: null, 'the variant'))->toBeTrue();
    $this->find($browser, 'label', 'As it is (control)')->click();
    $this->await($browser, fn () => $browser->findElement(WebDriverBy::id('next'))->getText() === 'Continue with the request' ?: null, 'the control');
    // A preview sees variants, and nothing of what happens behind them.
    $this->find($browser, 'button', 'Fold');
    expect($this->said($browser))->not->toContain('This page');
    expect($browser->executeScript('return document.querySelector("plx-loupe").shadowRoot.querySelectorAll("[role=tab]").length'))->toBe(1);
    // Folded, it moves nothing.
    $this->find($browser, 'button', 'Fold')->click();
    $this->find($browser, 'button.handle', 'Loupe');
    expect($browser->executeScript('return JSON.stringify(document.querySelector("main h1").getBoundingClientRect())'))->toBe($heading);
    // It goes along from page to page of this tab, and of no other.
    $browser->get($this->demo().'/join');
    $this->find($browser, 'button.handle', 'Loupe');
    expect($mine())->toBe($real);
    $this->await($browser, fn () => (int) $this->scalar("select count(*) from preview_events where name = 'exposure' and experiment = 'loan-steps'") >= 2 ?: null, 'what the preview sent', 10);
    expect($this->scalar('select count(*) from events'))->toBe($counted)->and((int) $this->scalar('select count(*) from arrivals where content like ?', '%preview%'))->toBe(0);
});

it('is moved, folded and opened by keyboard, and shows the page as a phone has it', function () {
    $browser = $this->visitor();
    $address = $this->address(['purpose' => 'preview', 'variant' => 'short']);
    $browser->get($address);
    $move = $this->find($browser, 'button', 'Move');
    $move->sendKeys(WebDriverKeys::ARROW_RIGHT);
    $this->find($browser, '.sheet.right');
    $browser->getKeyboard()->sendKeys([WebDriverKeys::ALT, WebDriverKeys::SHIFT, 'l']);
    $this->find($browser, 'button.handle.right');
    expect($browser->executeScript('return document.querySelector("plx-loupe").shadowRoot.querySelectorAll(".sheet").length'))->toBe(0);
    $this->find($browser, 'button.handle')->sendKeys(WebDriverKeys::ENTER);
    $this->find($browser, 'label', '390: phone')->click();
    $frame = $this->find($browser, 'iframe');
    $browser->switchTo()->frame($frame);
    expect($this->await($browser, fn () => $browser->findElement(WebDriverBy::id('next'))->getText() === 'Choose a day' ?: null, 'the variant in the frame'))->toBeTrue()
        ->and($browser->executeScript('return [innerWidth, document.querySelectorAll("plx-loupe").length]'))->toBe([390, 0]);
    $browser->switchTo()->defaultContent();
    // The page around it runs nothing.
    expect($browser->findElement(WebDriverBy::id('next'))->getText())->toBe('Continue with the request')
        // Only the one variant of the link is to be chosen.
        ->and($this->said($browser))->toContain('Names the step')->not->toContain('As it is (control)');
});

it('says to whoever works on the site what happened on the page, and why', function () {
    $browser = $this->visitor();
    $browser->get($this->address(['purpose' => 'look', 'experiment' => null]));
    $this->find($browser, 'label', 'Names the step')->click();
    $this->find($browser, '[role=tab]', 'This page')->click();
    $this->find($browser, 'section', 'Variant Names the step (chosen here), bucket');
    $this->find($browser, 'li', 'applied: text of #next: “Choose a day” Made to one element.');
    $this->find($browser, 'tr', 'exposureproperties');
    $this->find($browser, 'td', 'stored as a preview’s');
    $this->find($browser, 'td', 'conforms');
    $said = $this->said($browser);
    expect($said)->toContain('others are for other pages')->toContain('Goals that this visitor has reached')->toContain('What Pellix keeps in this browser');
    // Whoever points at a change sees its element.
    $this->find($browser, 'li[tabindex]', 'applied')->sendKeys('');
    $browser->executeScript('document.querySelector("plx-loupe").shadowRoot.querySelector("li[tabindex]").focus()');
    $outline = $this->find($browser, '.outline');
    expect(round($outline->getSize()->getWidth()))->toBe(round($browser->findElement(WebDriverBy::id('next'))->getSize()->getWidth()));
    expect($this->axe($browser))->toBe([]);
    // Refused consent: nothing runs, and that is said.
    $this->find($browser, '[role=tab]', 'Try')->click();
    $this->find($browser, 'label', 'Refused')->click();
    $this->find($browser, '[role=tab]', 'This page')->click();
    $this->find($browser, 'section', 'The visitor has not agreed to statistics: nothing runs.');
    expect($browser->findElement(WebDriverBy::id('next'))->getText())->toBe('Continue with the request')->and(array_map(fn ($cookie) => $cookie->getName(), $browser->manage()->getCookies()))->not->toContain('plx_consent', 'plx_variants');
});

it('leaves the page plain, and an ordinary one, where the link does not hold', function () {
    $browser = $this->open();
    $browser->get($this->demo().'/loan#plx-loupe='.str_repeat('a', 43));
    $this->await($browser, fn () => $browser->executeScript('return window.pellix && window.pellix.running'), 'the runtime', 10);
    expect($browser->executeScript('return [document.querySelectorAll("plx-loupe").length, location.hash, sessionStorage.length, document.cookie.includes("plx_variants")]'))->toBe([0, '', 0, true]);
    // A link that is followed on the very page that it leads to opens all the same; and to whoever looks from outside its root is closed.
    $browser->get($this->address(['purpose' => 'preview']));
    $this->await($browser, fn () => $browser->executeScript('return document.querySelector("plx-loupe") !== null') ?: null, 'the Loupe', 10);
    expect($browser->executeScript('return document.querySelector("plx-loupe").shadowRoot'))->toBeNull();
});

it('works on a page whose policy lets nothing run but what has its nonce', function () {
    $browser = $this->visitor();
    $browser->get($this->address(['purpose' => 'look', 'experiment' => null, 'url' => $this->demo().'/repairs/sound-policy']));
    $this->find($browser, '[role=tab]', 'This page')->click();
    $this->find($browser, 'td', 'stored as a preview’s');
    $background = $browser->executeScript('return getComputedStyle(document.querySelector("plx-loupe").shadowRoot.querySelector(".sheet")).backgroundColor');
    expect($background)->toBe('rgb(246, 245, 240)')->and(array_filter($browser->manage()->getLog('browser'), fn (array $line): bool => preg_match('/loupe\.js|style/', $line['message']) === 1))->toBe([]);
});

it('names the declaration that a change loses to, where that stands, and what would win', function () {
    $ours = <<<'CSS'
        .c1 { color: teal } .c2 { color: teal } @layer ours { .c3 { color: teal } } .c4 { color: teal !important } .c5 { color: teal } .c6 { color: teal }
        .c7.on { color: teal } .c8 { color: teal } .c9 { background-color: teal } .c10 { --tone: teal } .c11 { color: teal } .c12 { color: teal }
        CSS;
    $desk = $this->signIn();
    $made = $this->ask($desk, 'experiments', ['name' => 'Losing styles', 'hypothesis' => 'A page has styles of its own.', 'share' => 1, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan'], 'goals' => [], 'variants' => [
        ['key' => 'control', 'name' => 'As it is', 'weight' => 50, 'control' => true, 'changes' => []],
        ['key' => 'styled', 'name' => 'Styled', 'weight' => 50, 'control' => false, 'changes' => [['kind' => 'sheet', 'value' => $ours], ['kind' => 'style', 'selector' => '.c13', 'property' => 'color', 'value' => 'teal']]],
    ]]);
    expect($made['key'] ?? $made)->toBe('losing-styles');
    $address = $this->address(['purpose' => 'look', 'experiment' => 'losing-styles'], $desk);
    $browser = $this->visitor();
    $browser->get($address);
    $this->find($browser, '[role=tab]', 'This page')->click();
    $this->find($browser, 'li', 'applied: style sheet');
    $browser->executeScript(<<<'JS'
        const style = document.createElement('style');
        style.textContent = [
            '#k1 { color: red }', '/* of the page */', '.c3 { color: red }', '@layer base {', '  p.c4 { color: red !important }', '}', '@media (min-width: 100px) {', '  p.c5 { color: red }', '}',
            '@keyframes glow { from { color: red } to { color: red } }', '.c6 { animation: glow 600s infinite }', '.c7 { transition: color 600s }', 'em.k8 { color: red }', '.c9 { background: none }', '#k10 { --tone: red }',
            'body p.c11,', 'p.other { color: red !important }', '@supports (nothing: at-all) { #k12 { color: red } }', '.c13 { transition: color 600s }',
        ].join('\n');
        document.body.insertAdjacentHTML('beforeend', '<div id="conflicts"></div>');
        document.body.append(style);
        document.getElementById('conflicts').innerHTML = Array.from({ length: 13 }, (_, i) => `<p class="c${i + 1}" id="k${i + 1}"${i === 1 ? ' style="color: red"' : ''}>Text ${i === 7 ? '<em class="k8">within</em>' : ''}</p>`).join('');
        getComputedStyle(document.getElementById('k7')).color;
        document.getElementById('k7').classList.add('on');
        JS);
    $here = 'in style element \d+ of the page, line';
    foreach ([
        "color: teal loses to red by #k1 {$here} 1 \(specificity 1,0,0\)\. “color: teal !important” would win",
        'color: teal loses to red by the style attribute of the element\. “color: teal !important” would win',
        "color: teal loses to red by \.c3 {$here} 3 \(specificity 0,1,0\)",
        "color: teal loses to red by p\.c4 {$here} 5 \(specificity 0,1,1, !important, in a layer\)\. A change of the kind style",
        "color: teal loses to red by p\.c5 {$here} 8 \(specificity 0,1,1\)",
        'color: teal loses to .* by the animation glow',
        'color: teal loses to .* by a transition that is under way\. It shows once the transition is over',
        "color: teal is not inherited by em within, which has red by em\.k8 {$here} 13 \(specificity 0,1,1\)",
        "background-color: teal loses to .* by \.c9 {$here} 14 \(specificity 0,1,0\)",
        "--tone: teal loses to red by #k10 {$here} 15 \(specificity 1,0,0\)",
        "color: teal loses to red by body p\.c11 {$here} 16 \(specificity 0,1,2, !important\)\. “html body p\.c11",
    ] as $expected) {
        $this->await($browser, fn () => preg_match("~{$expected}~u", $this->said($browser)) === 1 ?: null, $expected, 20);
    }
    // What is in effect is not complained of.
    expect($this->said($browser))->not->toContain('#k12');
    $this->await($browser, fn () => $browser->executeScript('return document.getElementById("k13").style.color') === 'teal' ?: null, 'the style');
});

it('points at an element of the page, sets nothing off there, and says which selectors find it again', function () {
    $browser = $this->visitor();
    $browser->get($this->address(['purpose' => 'look', 'experiment' => null]));
    $this->find($browser, '[role=tab]', 'Point')->click();
    $this->find($browser, '.body button', 'Point')->click();
    $button = $browser->findElement(WebDriverBy::id('next'));
    (new WebDriverActions($browser))->moveToElement($button)->perform();
    $this->find($browser, '[role=status]', 'Click it, or press Enter');
    (new WebDriverActions($browser))->click()->perform();
    $this->find($browser, 'td.mono', '#next');
    $this->find($browser, 'td', 'sturdy: an id');
    // The button leads to the next step, and has not.
    expect($browser->getCurrentURL())->toBe($this->demo().'/loan')->and($this->axe($browser))->toBe([]);
    // By keys: what is around it.
    $this->find($browser, '.body button', 'Point')->sendKeys('');
    $browser->executeScript('[...document.querySelector("plx-loupe").shadowRoot.querySelectorAll(".body button")].find((one) => one.textContent === "Point").focus(); return null;');
    $browser->getKeyboard()->sendKeys([WebDriverKeys::ARROW_UP, WebDriverKeys::ENTER]);
    $this->find($browser, 'h2', 'form');
});
