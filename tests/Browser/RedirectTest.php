<?php

use Facebook\WebDriver\Remote\RemoteWebDriver;

/** A browser that says of itself what visitors' browsers do: that nobody drives it. */
function undriven(RemoteWebDriver $browser): RemoteWebDriver
{
    $browser->executeCustomCommand('/session/:sessionId/goog/cdp/execute', 'POST', ['cmd' => 'Page.addScriptToEvaluateOnNewDocument', 'params' => ['source' => 'Object.defineProperty(navigator, "webdriver", { get: () => false })']]);

    return $browser;
}

/** @return list<array{string, string, array<string, mixed>}> name, address and properties of a visitor's page views, and of what one experiment sent: others may run beside it */
function recordedOf(Tests\Support\BrowserTestCase $test, string $visitor, string $experiment): array
{
    return (fn (): array => array_map(
        static fn (string $line): array => json_decode($line, true),
        array_filter(explode("\n", (string) $this->scalar('select group_concat(json_array(name, url, json_extract(props, "$")) order by time, place separator "\n") from events where visitor = ? and (name = "page_view" or experiment = ?)', $visitor, $experiment))),
    ))->call($test);
}

it('sends a variant to another page of the site, with everything that the visitor brought, and back again to where they came from', function () {
    $desk = $this->signIn();
    $this->press($desk, 'Make an experiment');
    $this->fill($desk, 'Name', 'Evening only');
    $this->fill($desk, 'Path', '/catalogue');
    $this->choose($desk, 'Kind: changes something on the page', 'sends visitors to another page');
    $this->fill($desk, 'Variant 1: leads to', 'https://elsewhere.test/x');
    $this->press($desk, 'Make the draft');
    $this->see($desk, "is none of this site's");
    $this->fill($desk, 'Variant 1: leads to', '/catalogue?evening=1');
    $this->press($desk, 'Make the draft');
    $this->see($desk, 'The page rule matches this address, too');
    $this->fill($desk, 'Variant 1: leads to', '/catalogue-evening?light=low');
    $this->press($desk, 'Make the draft');
    $this->see($desk, 'Everything is kept.');
    $this->link($desk, 'exposure');
    // What is known of the page that it leads to.
    $this->await($desk, fn () => str_contains($this->text($desk), 'links to') || str_contains($this->text($desk), 'should name the original') ? true : null, 'advice on the target', 40);
    $this->link($desk, 'split');
    $this->fill($desk, 'Weight', '0');
    $this->startWithGoal($desk, 'Evening only', 'Thanked in the evening', '/donate/thanks');

    $visitor = undriven($this->open());
    $before = str_replace('larkhollow.', 'desk.larkhollow.', $this->demo()).'/';
    $visitor->get($before);
    $visitor->executeScript('location.href = arguments[0]', [$this->demo().'/catalogue?utm_source=mail&light=high#cellos']);
    $there = $this->demo().'/catalogue-evening?light=low&utm_source=mail#cellos';
    $this->await($visitor, fn () => $visitor->getCurrentURL() === $there ?: null, $there);
    $this->await($visitor, fn () => $visitor->executeScript('return window.pellix && window.pellix.running') ?: null, 'the runtime');
    // Nobody is sent on from there, nor kept hidden.
    $visitor->navigate()->refresh();
    $this->await($visitor, fn () => $visitor->getCurrentURL() === $there ?: null, 'the same page');
    $visitor->navigate()->back();
    $this->await($visitor, fn () => $visitor->getCurrentURL() === $before ?: null, 'the page before');
    // On the original address the variant is met again.
    $visitor->get($this->demo().'/catalogue');
    $this->await($visitor, fn () => $visitor->getCurrentURL() === $this->demo().'/catalogue-evening?light=low' ?: null, 'the target again');
    $this->await($visitor, fn () => $visitor->executeScript('return window.pellix && window.pellix.running') ?: null, 'the runtime');
    $id = $visitor->manage()->getCookieNamed('plx_visitor')->getValue();
    $visitor->get('about:blank');
    for ($n = 0; $n < 300 && (int) $this->scalar('select count(*) from events where visitor = ? and name = "change_applied" and experiment = "evening-only"', $id) < 2; $n++) {
        usleep(100_000);
    }
    // Of the page before, a browser may keep more than an address.
    $seen = array_values(array_filter(recordedOf($this, $id, 'evening-only'), fn (array $one): bool => str_starts_with($one[1], $this->demo())));
    expect(array_map(static fn (array $one): string => $one[0], $seen))->toBe(['page_view', 'exposure', 'page_view', 'change_applied', 'page_view', 'page_view', 'exposure', 'page_view', 'change_applied']);
    expect($seen[1][2])->toMatchArray(['experiment' => 'evening-only', 'variant' => 'variant-1'])->and($seen[1][1])->toBe($this->demo().'/catalogue?utm_source=mail&light=high#cellos')
        ->and($seen[2][2])->toEqual(['redirect' => 'evening-only', 'entry_referrer' => $before])
        ->and($seen[4][2])->toBe([])
        ->and($seen[7][2]['entry_referrer'])->toBe('');

    // Whoever opens the target directly is not in the experiment; a program, and a driven browser, stay on the original, unless the visit is marked.
    $direct = undriven($this->open());
    $direct->get($there);
    $driven = $this->open();
    $driven->get($this->demo().'/catalogue');
    foreach ([$direct, $driven] as $other) {
        $this->await($other, fn () => $other->executeScript('return window.pellix && window.pellix.running') ?: null, 'the runtime');
        $theirs = $other->manage()->getCookieNamed('plx_visitor')->getValue();
        expect(array_filter($other->manage()->getCookies(), static fn ($cookie): bool => str_contains((string) $cookie->getValue(), 'evening-only')))->toBe([]);
        $stays = $other->getCurrentURL();
        $other->get('about:blank');
        $this->await($other, fn () => (int) $this->scalar('select count(*) from events where visitor = ? and name = "page_view"', $theirs) === 1 ?: null, 'one page view');
        expect((int) $this->scalar('select count(*) from events where visitor = ? and experiment = "evening-only"', $theirs))->toBe(0)->and($stays)->toBe($other === $direct ? $there : $this->demo().'/catalogue');
    }
    $driven->get($this->demo().'/catalogue?plx_me=abcdef123456');
    $this->await($driven, fn () => str_contains($driven->getCurrentURL(), '/catalogue-evening?light=low') ?: null, 'the target, for a marked visit');

    // Another that would lead back is refused as it starts.
    $this->press($desk, 'Bench');
    $this->press($desk, 'Make an experiment');
    $this->fill($desk, 'Name', 'Daylight again');
    $this->fill($desk, 'Path', '/catalogue-evening');
    $this->choose($desk, 'Kind: changes something on the page', 'sends visitors to another page');
    $this->fill($desk, 'Variant 1: leads to', '/catalogue');
    $this->press($desk, 'Make the draft');
    $this->see($desk, 'Everything is kept.');
    $this->link($desk, 'goals');
    $this->choose($desk, 'Add a goal of the site: Add a goal of the site…', 'Loan noted');
    $this->kept($desk);
    $this->askToStart($desk, 'Daylight again');
    $this->see($desk, 'Visitors would go round in circles');

    // Other tests view the catalogue, too.
    $desk->get($this->origin().'/sites/plx_larkhollowdemo01/experiments/evening-only');
    $this->press($desk, 'End');
    $this->see($desk, 'End “Evening only”?');
    $this->press($desk, 'End');
    $this->see($desk, '· ended');
});
