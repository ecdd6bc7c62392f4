<?php

use Facebook\WebDriver\Remote\RemoteWebDriver;
use Facebook\WebDriver\WebDriverBy;

const LIFE = '/sites/plx_larkhollowdemo01/experiments';

/** Calls the API as the person who is signed in there. */
function call(RemoteWebDriver $browser, string $method, string $path, array $body): array
{
    return (array) $browser->executeAsyncScript('
        const [method, path, body, done] = arguments;
        const token = decodeURIComponent(/XSRF-TOKEN=([^;]*)/.exec(document.cookie)[1]);
        fetch("/api" + path, { method, body: JSON.stringify(body), headers: { "Content-Type": "application/json", Accept: "application/json", "X-XSRF-TOKEN": token } })
            .then(async (answer) => done({ status: answer.status, json: await answer.json().catch(() => null) }));
    ', [$method, $path, $body]);
}

/** @return array<string, mixed> a draft in which whatever can be wrong is */
function faulty(array $change = []): array
{
    $path = static fn (string $path): array => ['fact' => 'url.path', 'op' => 'is', 'value' => $path];

    return array_replace_recursive([
        'name' => 'Everything wrong', 'share' => 0, 'pages' => $path('/nowhere'), 'audience' => ['fact' => 'language', 'op' => 'is', 'value' => 'tlh'],
        'variants' => [['key' => 'control', 'weight' => 50, 'control' => true], ['key' => 'other', 'weight' => 0, 'changes' => [['kind' => 'remove', 'selector' => '#borrow']]]],
        'goals' => [['key' => 'never-yet', 'name' => 'Never yet', 'kind' => 'click', 'selector' => '#borrow', 'role' => 'primary']],
    ], $change);
}

/** @return list<string> the codes of the blockers that the ready list shows */
function blockers(object $test, RemoteWebDriver $browser): array
{
    $test->await($browser, fn () => $browser->findElements(WebDriverBy::cssSelector('[role=status][data-ready=there]')) !== [] && $browser->findElements(WebDriverBy::cssSelector('[data-point]')) !== [] ?: null, 'the ready list', 30);

    return $browser->executeScript('return [...document.querySelectorAll("[data-point][data-state=blocker]")].map((one) => one.dataset.point)');
}

it('says what speaks against a start, and leads to where each is mended', function () {
    $desk = $this->signIn();
    $site = '/sites/plx_larkhollowdemo01';
    expect(call($desk, 'POST', "{$site}/experiments", faulty())['status'])->toBe(201);
    $ready = $this->origin().LIFE.'/everything-wrong/ready';
    $desk->get($ready);
    expect(blockers($this, $desk))->toBe(['page.known', 'snippet.proven', 'entry.share', 'split.weights', 'goals.fired', 'goals.reachable'])->and($this->axe($desk))->toBe([]);

    // By its own button to where it is mended; mended there, the point is gone.
    $mend = function (string $code, string $where) use ($desk, $ready): void {
        $desk->get($ready);
        blockers($this, $desk);
        $desk->findElement(WebDriverBy::cssSelector("[data-mend='{$code}']"))->click();
        $this->await($desk, fn () => str_contains($desk->getCurrentURL(), $where) ?: null, "the way from {$code} to {$where}");
    };
    $mend('page.known', '/everything-wrong/page');
    $this->fill($desk, 'Path', '/catalogue/harrow-flute');
    $this->kept($desk);
    $mend('entry.share', '/everything-wrong/entry');
    $this->fill($desk, 'Share in percent', '100');
    $this->kept($desk);
    $mend('split.weights', '/everything-wrong/split');
    $desk->findElement(WebDriverBy::xpath("(//label[normalize-space()='Weight']/following::input)[2]"))->sendKeys([Facebook\WebDriver\WebDriverKeys::CONTROL, 'a'])->sendKeys('50');
    $this->kept($desk);
    $mend('goals.fired', '/measures/goals/never-yet');
    $mend('goals.reachable', '/everything-wrong/goals');
    // The goal waits for the button that the variant takes away: the variant is made to leave it.
    expect(call($desk, 'PUT', "{$site}/experiments/everything-wrong", faulty(['share' => 1, 'pages' => ['value' => '/catalogue/harrow-flute'], 'audience' => null, 'variants' => [1 => ['weight' => 50, 'changes' => [['kind' => 'text', 'selector' => '#borrow', 'value' => 'Ask']]]]]))['status'])->toBe(200);
    $visitor = $this->open();
    $visitor->get($this->demo().'/catalogue/harrow-flute');
    $this->await($visitor, fn () => $visitor->executeScript('return window.pellix && window.pellix.running') ?: null, 'the runtime');
    $visitor->executeScript('document.getElementById("borrow").addEventListener("click", (event) => event.preventDefault()); document.getElementById("borrow").click();');
    $visitor->get($this->demo().'/');
    $this->await($desk, function () use ($desk, $ready) {
        $desk->get($ready);

        return blockers($this, $desk) === [] ?: null;
    }, 'nothing to keep it from starting', 60);
});

it('leads to what a page, a group, an audience, a value, a selector, a target or a draft lacks, until nothing is left of it', function () {
    $desk = $this->signIn();
    $site = '/sites/plx_larkhollowdemo01';
    $make = static fn (array $change): int => call($desk, 'POST', "{$site}/experiments", ['share' => 1, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/catalogue'], 'goals' => [['key' => 'loan-noted', 'role' => 'primary']], ...$change])['status'];
    $goTo = function (string $key, string $code, string $where) use ($desk): void {
        $desk->get($this->origin().LIFE."/{$key}/ready");
        expect(blockers($this, $desk))->toContain($code);
        $desk->findElement(WebDriverBy::cssSelector("[data-mend='{$code}']"))->click();
        $this->await($desk, fn () => str_contains($desk->getCurrentURL(), $where) ?: null, "the way from {$code} to {$where}");
    };
    $gone = function (string $key, string $code) use ($desk): void {
        $this->await($desk, function () use ($desk, $key, $code) {
            $desk->get($this->origin().LIFE."/{$key}/ready");

            return in_array($code, blockers($this, $desk), true) ? null : true;
        }, "{$code} to be mended", 60);
    };
    $words = [['key' => 'control', 'weight' => 50, 'control' => true], ['key' => 'other', 'weight' => 50, 'changes' => [['kind' => 'text', 'selector' => 'h1', 'value' => 'Shelves']]]];

    // Where a redirect leads, and what a selector finds, is looked at on the pages themselves.
    expect($make(['name' => 'Lost target', 'kind' => 'redirect', 'variants' => [$words[0], ['key' => 'other', 'weight' => 50, 'target' => '/about']]]))->toBe(201)
        ->and($make(['name' => 'Lost element', 'variants' => [$words[0], ['key' => 'other', 'weight' => 50, 'changes' => [['kind' => 'hide', 'selector' => '.not-there-at-all']]]]]))->toBe(201);
    $goTo('lost-target', 'exposure.targets', '/lost-target/exposure');
    $this->fill($desk, 'Variant 1: leads to', '/catalogue-evening');
    $this->kept($desk);
    $gone('lost-target', 'exposure.targets');
    $goTo('lost-element', 'exposure.selectors', '/lost-element/exposure');
    $this->fill($desk, 'Elements (CSS selector)', 'h1');
    $this->kept($desk);
    $gone('lost-element', 'exposure.selectors');

    expect($make(['name' => 'All of the shelf', 'group' => ['key' => 'shelf', 'from' => 0], 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/nowhere'], 'variants' => $words]))->toBe(201)
        ->and(call($desk, 'POST', "{$site}/experiments/all-of-the-shelf/stage", ['action' => 'start', 'reason' => 'To fill the group'])['status'])->toBe(200)
        ->and($make(['name' => 'No room', 'group' => ['key' => 'shelf', 'from' => 0], 'variants' => $words]))->toBe(201);
    $goTo('no-room', 'entry.group', '/no-room/entry');
    $this->fill($desk, 'Group', 'another-shelf');
    $this->kept($desk);
    $gone('no-room', 'entry.group');

    $device = static fn (string $kind): array => ['fact' => 'device', 'op' => 'is', 'value' => $kind];
    expect($make(['name' => 'Nobody at all', 'audience' => ['all' => [$device('mobile'), $device('desktop')]], 'variants' => $words]))->toBe(201);
    $goTo('nobody-at-all', 'entry.audience', '/nobody-at-all/entry');
    $this->choose($desk, 'Who may enter: only visitors of whom this holds', 'everybody who views the page');
    $this->kept($desk);
    $gone('nobody-at-all', 'entry.audience');

    expect(call($desk, 'POST', "{$site}/goals", ['name' => 'Worth nothing', 'kind' => 'event', 'event' => 'order', 'value' => ['prop' => 'price'], 'currency' => 'EUR'])['status'])->toBe(201)
        ->and($make(['name' => 'Nothing worth', 'variants' => $words, 'goals' => [['key' => 'worth-nothing', 'role' => 'primary']]]))->toBe(201);
    $this->await($desk, fn () => (int) $this->scalar('select count(*) from goal_hits h join counts c on c.id = h.count_id join goals g on g.id = c.subject_id where c.kind = "goal" and g.`key` = "worth-nothing"') > 0 ?: null, 'the goal to be counted', 60);
    $goTo('nothing-worth', 'goals.values', '/measures/goals/worth-nothing');
    $this->fill($desk, 'Property with the value', 'value');
    $this->press($desk, 'Keep the changes');
    $this->see($desk, 'revision 2');
    $gone('nothing-worth', 'goals.values');

    // Not finished, and without a goal.
    expect($make(['name' => 'Half done', 'variants' => $words, 'goals' => []]))->toBe(201);
    $desk->get($this->origin().LIFE.'/half-done/exposure');
    $this->press($desk, 'Add a change to Variant 1');
    $this->kept($desk);
    $goTo('half-done', 'draft.finished', '/half-done');
    $this->link($desk, 'exposure');
    $this->fill($desk, 'Elements (CSS selector)', '.lead', 1);
    $this->fill($desk, 'New text', 'Borrow one', 1);
    $this->kept($desk);
    $goTo('half-done', 'goals.named', '/half-done/goals');
    $this->choose($desk, 'Add a goal of the site: Add a goal of the site…', 'Loan noted');
    $this->kept($desk);
    $desk->get($this->origin().LIFE.'/half-done/ready');
    expect(blockers($this, $desk))->toBe([]);
});

it('is planned, scheduled, started, changed, ended with a variant kept, and handed to the developers', function () {
    $desk = $this->signIn();
    $site = '/sites/plx_larkhollowdemo01';
    expect(call($desk, 'POST', "{$site}/experiments", [
        'name' => 'A whole life', 'share' => 1, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/join'], 'goals' => [['key' => 'joined', 'role' => 'primary']],
        'variants' => [['key' => 'control', 'name' => 'As it is', 'weight' => 50, 'control' => true], ['key' => 'kind', 'name' => 'Kind words', 'weight' => 50, 'changes' => [['kind' => 'text', 'selector' => 'h1', 'value' => 'You are welcome here']]]],
    ])['status'])->toBe(201);
    $desk->get($this->origin().LIFE.'/a-whole-life/plan');
    $this->await($desk, fn () => str_contains($this->text($desk), 'visitors a variant find') ?: null, 'the plan', 40);
    $this->fill($desk, 'Size', '40');
    $this->await($desk, fn () => $desk->findElement(WebDriverBy::xpath("//button[normalize-space()='Keep the plan']"))->isEnabled() ?: null, 'the plan to be worked out');
    expect($this->axe($desk))->toBe([]);
    $this->press($desk, 'Keep the plan');
    $this->see($desk, 'Made by Ines Calder');

    $desk->get($this->origin().LIFE.'/a-whole-life');
    $this->press($desk, 'Start');
    $this->choose($desk, 'When: Start now', 'Start at a time');
    $this->await($desk, fn () => $desk->findElements(WebDriverBy::cssSelector('[role=dialog] [data-ready=there]')) !== [] ?: null, 'the ready list', 30);
    $desk->executeScript('
        const set = (input, value) => { Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(input, value); input.dispatchEvent(new Event("input", { bubbles: true })); };
        set(document.querySelector("[role=dialog] input[type=datetime-local]"), "2031-03-03T09:00");
    ');
    $this->press($desk, 'Schedule it');
    $this->see($desk, 'It starts by itself 3 Mar 2031, 09:00.');
    $this->press($desk, 'Take back');
    $this->see($desk, 'Take back “A whole life”?');
    $this->press($desk, 'Take back');
    $this->see($desk, '· draft');
    expect(call($desk, 'PUT', "{$site}/experiments/a-whole-life/timetable", ['start' => null, 'end' => null, 'end_visitors' => null])['status'])->toBe(200);
    $desk->navigate()->refresh();
    $this->start($desk, 'A whole life');
    expect($desk->getTitle())->toContain('running, nothing received yet');

    $visitor = $this->open();
    $visitor->get($this->demo().'/join');
    $this->await($visitor, fn () => $visitor->manage()->getCookieNamed('plx_variants'), 'to be let in');
    $this->await($desk, fn () => str_contains($desk->getTitle(), '1 visitor') ?: null, 'the visitor to be told of', 30);

    $desk->get($this->origin().LIFE.'/a-whole-life/split');
    $this->press($desk, 'Change…');
    $desk->findElement(WebDriverBy::xpath("(//label[normalize-space()='Weight']/following::input)[1]"))->sendKeys([Facebook\WebDriver\WebDriverKeys::CONTROL, 'a'])->sendKeys('90');
    $this->see($desk, 'A new epoch begins: the weights change.');
    $this->see($desk, 'The 1 visitor so far and those to come are compared separately');
    $this->press($desk, 'Put it live');
    $this->see($desk, 'Epochs');
    expect($this->axe($desk))->toBe([]);

    $this->press($desk, 'End');
    $this->see($desk, 'End “A whole life”?');
    $this->choose($desk, 'What visitors see then: the page as it is in the site', '“Kind words”, everybody');
    $this->press($desk, 'End');
    $this->see($desk, 'Everybody is served “Kind words”');
    foreach ([1, 2, 3] as $_) {
        $other = $this->open();
        $other->get($this->demo().'/join');
        $this->await($other, fn () => $other->findElement(WebDriverBy::tagName('h1'))->getText() === 'You are welcome here' ?: null, 'everybody to be served it');
        // Nobody is assigned by it.
        expect((string) $other->manage()->getCookieNamed('plx_variants')?->getValue())->not->toContain('a-whole-life');
    }
    $desk->findElement(WebDriverBy::linkText('Brief for the developers'))->click();
    $this->fill($desk, 'For whom', 'The shop');
    $this->press($desk, 'Make the brief');
    $this->see($desk, '“Kind words” of A whole life');
    $brief = $this->open();
    $brief->get($desk->findElement(WebDriverBy::cssSelector('article a[href*="/brief/"]'))->getAttribute('href'));
    $this->see($brief, 'To be built into Larkhollow Instrument Library: “Kind words”');
    $this->see($brief, 'You are welcome here');
    $this->see($brief, 'not yet');
    expect($this->axe($brief))->toBe([]);
    $this->press($desk, 'Take it back');
    $this->see($desk, 'Take the link for The shop back?');
    $this->press($desk, 'Take it back');
    $this->see($desk, 'Taken back');

    $desk->get($this->origin().LIFE.'/a-whole-life');
    $this->press($desk, 'Stop serving it');
    $this->await($desk, fn () => ! str_contains($this->text($desk), 'Everybody is served') ?: null, 'it to be served no more');

    $desk->get($this->origin().LIFE.'/a-whole-life/logbook');
    $this->see($desk, 'no longer served');
    $said = $desk->executeScript('return [...document.querySelectorAll("[data-entry]")].map((one) => one.dataset.entry.replace("experiment ", ""))');
    expect($said)->toBe(['no longer served', 'ended', 'changed', 'started', 'changed', 'taken back', 'scheduled', 'changed', 'created'])->and($this->axe($desk))->toBe([]);
    $desk->findElement(WebDriverBy::xpath("(//button[starts-with(@aria-label, 'New draft from revision')])[last()]"))->click();
    $this->see($desk, 'A whole life (as of revision');
    $this->await($desk, fn () => str_contains($desk->getCurrentURL(), 'as-of-revision') ?: null, 'the new draft');
    $this->press($desk, 'Delete');
    $this->see($desk, 'is deleted.');
    $this->press($desk, 'Undo');
    $this->see($desk, 'A whole life (as of revision');

    $desk->get($this->origin().'/sites/plx_larkhollowdemo01/wiring/published');
    $this->see($desk, 'what pages get now');
    expect($this->axe($desk))->toBe([]);
    $desk->get($this->origin().'/sites/plx_larkhollowdemo01/logbook?thing=experiment');
    $this->see($desk, 'A whole life');
    expect($this->axe($desk))->toBe([]);
});
