<?php

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Facebook\WebDriver\WebDriverSelect;

const MEASURES = '/sites/plx_larkhollowdemo01/measures';

it('defines a goal from a pasted address, sees what it would have counted, and watches it fire', function () {
    $desk = $this->signIn();
    $this->press($desk, 'Measures');
    $this->press($desk, 'Define a goal');
    $this->fill($desk, 'Goal name', 'Workshop read');
    $value = fn () => $desk->findElement(WebDriverBy::xpath("//input[@placeholder='/join/done']"));
    $this->await($desk, $value, 'the path');
    $value()->sendKeys('https://elsewhere.test/workshops'.WebDriverKeys::TAB);
    $this->see($desk, "The host elsewhere.test is none of this site's");
    $value()->sendKeys([WebDriverKeys::CONTROL, 'a'])->sendKeys($this->demo().'/workshops/?from=mail'.WebDriverKeys::TAB);
    $this->see($desk, "one of this site's hosts; the path was kept, the query ?from=mail left out");
    expect($value()->getAttribute('value'))->toBe('/workshops/');
    $this->see($desk, 'only the slash at the end differs');
    $this->see($desk, 'It would not have counted once in 28 days.');
    $this->press($desk, 'Keep the goal');
    $this->see($desk, 'It has not been reached.');
    $this->press($desk, 'Workshop read');
    $this->see($desk, 'Change Workshop read');
    $desk->findElement(WebDriverBy::xpath("//label[normalize-space()='a slash at the end does not matter']"))->click();
    $this->await($desk, fn () => (int) str_replace(' ', '', $this->text($desk, "[data-days='28'] [data-figure=hits]")) > 100 ?: null, 'what it would have counted');
    expect($this->axe($desk))->toBe([]);
    $this->press($desk, 'Keep the changes');
    $this->see($desk, 'revision 2');

    // A pattern that could run away is refused with the part at fault.
    $this->press($desk, 'Workshop read');
    $this->see($desk, 'Change Workshop read');
    $this->press($desk, 'Condition 1: how it compares: is exactly');
    $desk->findElement(WebDriverBy::xpath("//*[@role='option'][normalize-space()='matches the pattern']"))->click();
    $value()->sendKeys([WebDriverKeys::CONTROL, 'a'])->sendKeys('^/(a+)+$');
    $this->see($desk, 'The part “a+”, inside of another repetition, can run away');
});

it('shows each event with its trace, for every kind of goal, on every kind of page', function () {
    $desk = $this->signIn();
    $site = "{$this->origin()}/api/sites/plx_larkhollowdemo01";
    $goals = [
        ['name' => 'T page', 'kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/join']],
        ['name' => 'T click', 'kind' => 'click', 'selector' => 'form #join'],
        ['name' => 'T form', 'kind' => 'form', 'selector' => 'form'],
        ['name' => 'T event', 'kind' => 'event', 'event' => 'bench_booked', 'when' => ['fact' => 'event.props.deposit', 'op' => 'gte', 'value' => 10]],
        ['name' => 'T order', 'kind' => 'order', 'currency' => 'EUR'],
        ['name' => 'T engaged', 'kind' => 'engaged', 'seconds' => 1, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/join']],
        ['name' => 'T scroll', 'kind' => 'scroll', 'percent' => 50],
        ['name' => 'T any', 'kind' => 'any_click'],
        ['name' => 'T route', 'kind' => 'page', 'pages' => ['all' => [['fact' => 'url.host', 'op' => 'starts', 'value' => 'desk.'], ['fact' => 'url.path', 'op' => 'is', 'value' => '/booked']]]],
        ['name' => 'T steps', 'kind' => 'steps', 'steps' => [['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/donate']], ['kind' => 'order']]],
    ];
    foreach ($goals as $goal) {
        // Through the signed-in browser, as the interface itself would.
        $made = $desk->executeAsyncScript(
            'const [url, body, done] = arguments; fetch(url, { method: "POST", body, headers: { "Content-Type": "application/json", Accept: "application/json", "X-XSRF-TOKEN": decodeURIComponent(/XSRF-TOKEN=([^;]*)/.exec(document.cookie)[1]) } }).then((r) => done(r.status));',
            ["{$site}/goals", json_encode($goal)],
        );
        expect($made)->toBe(201);
    }

    // The person opens the site with their mark in a second window, and watches only that.
    $desk->get($this->origin().MEASURES.'/feed');
    $this->see($desk, 'Open the site with my mark');
    $marked = $desk->findElement(WebDriverBy::linkText('Open the site with my mark'))->getAttribute('href');
    $desk->findElement(WebDriverBy::xpath("//label[normalize-space()='only my own visits']"))->click();
    $this->see($desk, 'Nothing has arrived that matches.');
    // Narrow, so that its pages have to be scrolled.
    $visitor = $this->open(390);
    $visitor->get($marked);
    $running = fn () => $this->await($visitor, fn () => $visitor->executeScript('return window.pellix && window.pellix.running'), 'the runtime', 5);
    $running();
    $this->see($desk, 'larkhollow.localhost', 4);
    $visitor->get($this->demo().'/join');
    $running();
    $visitor->getMouse()->mouseMove($visitor->findElement(WebDriverBy::tagName('h1'))->getCoordinates());
    sleep(2);
    $visitor->findElement(WebDriverBy::id('join'))->click();
    $this->await($visitor, fn () => str_contains($visitor->getCurrentURL(), '/join/done') ?: null, 'the next page');
    $running();
    $visitor->get($this->demo().'/catalogue');
    $running();
    $visitor->executeScript('window.scrollTo(0, document.documentElement.scrollHeight)');
    usleep(300_000);
    // An application on a single page, with a data layer.
    $visitor->get(str_replace('larkhollow.localhost', 'desk.larkhollow.localhost', $this->demo()).'/');
    $running();
    $visitor->findElement(WebDriverBy::cssSelector('[data-to]'))->click();
    $visitor->findElement(WebDriverBy::cssSelector('[data-to]'))->click();
    $this->await($visitor, fn () => str_ends_with($visitor->getCurrentURL(), '/booked') ?: null, 'the last view');
    // The payment page of somebody else, where no script of ours runs.
    $visitor->get($this->demo().'/donate');
    $running();
    $this->await($visitor, fn () => $visitor->findElement(WebDriverBy::id('visitor'))->getAttribute('value') ?: null, 'the visitor id');
    (new WebDriverSelect($visitor->findElement(WebDriverBy::id('amount'))))->selectByVisibleText('40');
    $id = $visitor->findElement(WebDriverBy::id('visitor'))->getAttribute('value');
    $visitor->findElement(WebDriverBy::id('give'))->click();
    $this->await($visitor, fn () => $visitor->findElement(WebDriverBy::id('pay')), 'the payment page');
    expect($visitor->executeScript('return document.querySelectorAll("script").length'))->toBe(0);
    $visitor->findElement(WebDriverBy::id('pay'))->click();
    $this->see($visitor, 'Paid');
    // Told again, it still counts once.
    $visitor->navigate()->refresh();
    $this->await($visitor, fn () => (int) $this->scalar('select count(*) from events where visitor = ? and name = "order"', $id) === 1 ?: null, 'the order');

    // Each goal was reached, and the event that reached it says so.
    $names = ['T page' => 'page_view', 'T click' => 'click', 'T form' => 'form_submit', 'T event' => 'bench_booked', 'T order' => 'order', 'T engaged' => 'engaged', 'T scroll' => 'scroll', 'T any' => 'click', 'T route' => 'page_view', 'T steps' => 'order'];
    foreach ($names as $goal => $event) {
        $key = Illuminate\Support\Str::slug($goal);
        $hit = $this->await($desk, function () use ($desk, $site, $key, $id, $event) {
            $desk->executeAsyncScript('const [url, done] = arguments; fetch(url).then((r) => r.text()).then(done);', ["{$site}/goals"]);
            $events = $this->scalar('select h.events from goal_hits h join counts c on c.id = h.count_id and c.kind = "goal" join goals g on g.id = c.subject_id where g.`key` = ? and h.visitor = ? limit 1', $key, $id);

            return $events ? end(...[json_decode($events)]) : null;
        }, "a hit of {$goal} by {$event}", 20);
        $desk->get($this->origin().MEASURES.'/feed/'.$hit);
        $this->await($desk, fn () => $desk->findElement(WebDriverBy::cssSelector("[data-trace='{$key}']"))->getAttribute('data-hit') === 'true' ?: null, "the trace of {$goal}");
    }
    $this->see($desk, 'As it came');
    expect($this->axe($desk))->toBe([]);
    $row = $this->scalar('select props from events where visitor = ? and name = "form_submit" limit 1', $id);
    expect($row)->not->toContain('A. Reader');
});

it('shows rejected events with their reason, keeps up with fifty events a second, and waits while it is paused', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().MEASURES.'/feed');
    $this->see($desk, 'newest event');
    $this->beacon([$this->event('feed-bad', ['url' => 'https://elsewhere.test/<b>x</b>'])]);
    $this->see($desk, 'rejected, event.url', 4);
    // Only the rows in sight are drawn; the table says how many there are.
    $rows = fn (): int => (int) $desk->executeScript('return (document.querySelector("table")?.getAttribute("aria-rowcount") ?? 1) - 1');
    $desk->get($this->origin().MEASURES.'/feed?event=burst');
    $this->see($desk, 'Nothing has arrived that matches');
    for ($second = 0; $second < 4; $second++) {
        for ($i = 0; $i < 5; $i++) {
            $this->beacon(array_map(fn (int $n): array => $this->event("burst-{$second}-{$i}-{$n}", ['name' => 'burst']), range(1, 10)));
            usleep(150_000);
        }
    }
    $this->await($desk, fn () => $rows() === 200 ?: null, '200 events', 6);
    expect(count($desk->findElements(WebDriverBy::cssSelector('[data-event=burst]'))))->toBeGreaterThan(10)->toBeLessThan(100);
    $this->press($desk, 'Pause');
    $this->beacon([$this->event('after-pause', ['name' => 'burst'])]);
    $this->see($desk, 'Go on, 1 wait', 4);
    expect($rows())->toBe(200);
    $this->press($desk, 'Go on, 1 wait');
    $this->await($desk, fn () => $rows() === 201 ?: null, 'what waited');
});

it('has no serious fault that axe can find in Measures, and holds the width of a phone', function (string $path, string $text) {
    foreach ([1280, 390] as $width) {
        $browser = $this->signIn($width);
        $browser->get($this->origin().MEASURES.$path);
        $this->see($browser, $text);
        if ($width === 1280) {
            expect($this->axe($browser))->toBe([]);
        }
        expect($browser->executeScript('return document.documentElement.scrollWidth'))->toBeLessThanOrEqual($width);
    }
})->with([['', 'Define a goal'], ['/goals/new', 'Tried on what is known'], ['/goals/loan-in-one-go', 'Then'], ['/events', 'sent by the runtime itself'], ['/events/member_joined', 'kept to it'], ['/capture', 'Idle minutes'], ['/feed', 'newest event']]);

it('plans an event and keeps it', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().MEASURES.'/events');
    $this->fill($desk, 'New event', 'brochure_opened');
    $this->press($desk, 'Plan it');
    $this->see($desk, 'It has not been received.');
    $this->fill($desk, 'What it means', 'A brochure was opened');
    $this->press($desk, 'Add a property');
    $this->fill($desk, 'Property 1', 'pages');
    $this->press($desk, 'Keep the plan');
    $this->see($desk, 'Take it out of the plan');
    expect($this->scalar('select json_value(`schema`, "$.properties.pages.type") from event_definitions where name = "brochure_opened"'))->toBe('string');
});
