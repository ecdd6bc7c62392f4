<?php

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;

it('runs one experiment from snippet to verdict', function () {
    // A person makes and starts an experiment.
    $desk = $this->signIn();
    $this->press($desk, 'Make an experiment');
    $this->fill($desk, 'Name', 'Workshops in two words');
    $this->fill($desk, 'Path', $this->demo().'/workshops?from=mail');
    $this->field($desk, 'Path')->sendKeys(WebDriverKeys::TAB);
    $this->see($desk, "one of this site's hosts; the path was kept, the query ?from=mail left out");
    expect($this->field($desk, 'Path')->getAttribute('value'))->toBe('/workshops');
    $this->fill($desk, 'Elements (CSS selector)', 'main h1');
    $this->fill($desk, 'New text', 'Come & mend');
    $this->press($desk, 'Make the draft');
    $this->see($desk, 'Everything is kept.');
    $this->fill($desk, 'Hypothesis', 'Fewer words bring more people to the workshops.');
    expect($this->axe($desk))->toBe([]);
    $this->link($desk, 'split');
    $this->fill($desk, 'Variant 1: name', 'Two words');
    $this->press($desk, 'Add a variant');
    $this->fill($desk, 'Variant 2: name', 'Green');
    foreach ([40, 40, 20] as $i => $weight) {
        $this->fill($desk, 'Weight', (string) $weight, $i);
    }
    $this->link($desk, 'exposure');
    $this->choose($desk, 'Variant 2, change 1: kind: Text', 'Style');
    $this->fill($desk, 'Elements (CSS selector)', 'main h1', 1);
    $this->fill($desk, 'Property', 'color');
    $this->fill($desk, 'Value', 'rgb(0, 100, 0)');
    $this->startWithGoal($desk, 'Workshops in two words', 'Thanked after workshops', '/donate/thanks');
    $desk->get($this->origin().'/sites/plx_larkhollowdemo01/experiments/workshops-in-two-words');
    $this->see($desk, 'Nothing has been received from this experiment. First unproven link: Page.');

    // Twenty visitors come, each with a fresh profile; every fourth goes on to the goal.
    $shown = [];
    for ($i = 0; $i < 20; $i++) {
        $visitor = $this->open();
        $look = function () use ($visitor): string {
            $visitor->get($this->demo().'/workshops');
            $this->await($visitor, fn () => $visitor->manage()->getCookieNamed('plx_variants'), 'the assignment', 5);
            $heading = $visitor->findElement(WebDriverBy::cssSelector('main h1'));

            return match (true) {
                $heading->getText() === 'Come & mend' => 'variant-1',
                $heading->getCSSValue('color') === 'rgba(0, 100, 0, 1)' => 'variant-2',
                default => 'control',
            };
        };
        $first = $look();
        expect($look())->toBe($first, 'the same variant on reload')
            ->and($visitor->manage()->getCookieNamed('plx_variants')->getValue())->toContain("workshops-in-two-words~{$first}");
        if ($i % 4 === 0) {
            $visitor->get($this->demo().'/donate/thanks');
            $this->await($visitor, fn () => $visitor->executeScript('return window.pellix && window.pellix.running'), 'the runtime', 5);
        }
        $shown[] = [$first, $i % 4 === 0];
        // Leaving sends what is still waiting; a browser that is killed at once would take it along.
        $id = $visitor->manage()->getCookieNamed('plx_visitor')->getValue();
        $visitor->get('about:blank');
        $views = $i % 4 === 0 ? 3 : 2;
        $this->await($visitor, fn () => (int) $this->scalar('select count(*) from events where visitor = ? and name = "page_view"', $id) === $views ?: null, "{$views} page views");
        $visitor->quit();
    }

    // The interface shows exactly those, without being reloaded.
    $expected = static fn (string $variant): array => [
        count(array_filter($shown, static fn (array $one): bool => $one[0] === $variant)),
        count(array_filter($shown, static fn (array $one): bool => $one[0] === $variant && $one[1])),
    ];
    $this->see($desk, 'n = 20.');
    foreach (['control', 'variant-1', 'variant-2'] as $key) {
        [$visitors, $hits] = $expected($key);
        $this->await($desk, fn () => $this->text($desk, "[data-variant='{$key}'] [data-figure=visitors]") === "{$visitors} visitor".($visitors === 1 ? '' : 's') ?: null, "{$visitors} visitors of {$key}");
        $exposures = 2 * $visitors;
        // Figures are taken in bit by bit: what came last may show a little later.
        $this->await($desk, fn () => str_starts_with($this->text($desk, "[data-exposures='{$key}']"), "{$exposures} exposures") ?: null, "{$exposures} exposures of {$key}");
        $this->await($desk, fn () => $this->text($desk, "[data-goal-variant='{$key}'] [data-figure=hits]") === (string) $hits ?: null, "{$hits} hits of {$key}");
        expect($this->text($desk, "[data-goal-variant='{$key}'] [data-figure=hits]"))->toBe((string) $hits)
            ->and($this->text($desk, "[data-goal-variant='{$key}'] [data-figure=hit-visitors]"))->toBe((string) $hits);
        if ($key !== 'control' && $visitors > 0) {
            expect($this->text($desk, "[data-exposures='{$key}']"))->toContain("confirmed in {$exposures} (100.0 %)");
        }
    }
    $verdict = $this->text($desk, '[data-figure=srm]');
    $observed = array_map(static fn (string $key): int => $expected($key)[0], ['control', 'variant-1', 'variant-2']);
    $p = Pellix\Core\Statistics\SampleRatio::test($observed, [40, 40, 20])->p;
    expect($verdict)->toContain($p >= 0.001 ? sprintf('p = %.3f', $p) : 'p = ')->toContain('n = 20.');
    expect((int) $this->scalar('select count(distinct visitor) from events where experiment = "workshops-in-two-words"'))->toBe(20);
});

it('turns the verdict when a variant loses its visitors', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().'/sites/plx_larkhollowdemo01/experiments/loan-steps/split');
    $this->see($desk, 'Visitors split as the weights say.');
    expect($this->pellix(['simulate', '--experiment=loan-steps', '--visitors=1500', '--seed=5', '--lose=short:60'])->getExitCode())->toBe(0);
    $this->see($desk, 'Mismatch: chance does not explain these counts.');
    $this->see($desk, 'Variant “Names the step” has');
    $this->see($desk, 'fewer visitors than its weight gives');
});
