<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Browser\Tab;
use App\Rehearsals\Outcome;
use App\Rehearsals\Probe;
use App\Rehearsals\Stage;
use App\Rehearsals\Visitor;
use Pellix\Core\Chain\Link;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\QuickSplit;

/** Whether visitors get the variant that the core computes, keep it, and are split as weighted. */
final readonly class AssignmentPart implements Part
{
    private const RELOADS = 5;

    private const QUICK = 200;

    /** A cookie's end may be off by so many seconds. */
    private const SLACK = 120;

    public function play(Stage $stage, ?string $variant): Outcome
    {
        $outcome = new Outcome();
        if (! $stage->runs()) {
            return $outcome;
        }
        if ($stage->experiment->unit === 'user') {
            $this->quick($stage, $outcome);

            return $outcome;
        }
        $shown = array_values(array_filter($stage->variants(), static fn (DeclaredVariant $one): bool => $one->variant->weight > 0 && $one->target === null));
        $stage->say('Assignment: loading again and again');
        foreach (array_slice($shown, -1) as $one) {
            $this->kept($stage, $outcome, $one->variant->key);
        }
        $stage->say('Assignment: '.self::QUICK.' quick visitors');
        $this->quick($stage, $outcome);

        return $outcome;
    }

    private function kept(Stage $stage, Outcome $outcome, string $variant): void
    {
        $visitor = $stage->visitors->make($variant, $stage->screen());
        $tab = $visitor->tab;
        $stage->visitors->open($visitor);
        $tab->settle();
        if (! $stage->awaitRuntime($tab, 3.0)) {
            // What keeps the runtime from running is told elsewhere.
            $visitor->leave();

            return;
        }
        $stage->visitors->setOff($tab);
        $tab->attend(0.3);
        $first = $this->state($stage, $tab);
        if ($first['variant'] === null) {
            $this->notKept($stage, $outcome, $visitor, $first);
            $visitor->leave();

            return;
        }
        if ($first['id'] === $visitor->id && $first['variant'] !== $variant) {
            $outcome->found(new Finding(CheckCode::AssignmentDiffers, "The visitor belongs to “{$variant}”, and got “{$first['variant']}”.", 'The browser assigned another variant than the core computes for this id.', 'See whether the published file is of this experiment as it is now.', $variant, evidence: ['id' => $visitor->id]));
        } else {
            $outcome->proven(Link::Split, "The browser assigns “{$variant}”, as the core computes for this id.", $variant);
        }
        $this->cookies($stage, $outcome, $tab, $variant);
        $lost = null;
        for ($i = 1; $i <= self::RELOADS && $lost === null; $i++) {
            $tab->execute('Page.reload');
            $tab->attend(0.15);
            $tab->settle();
            $stage->awaitRuntime($tab, 2.0);
            $tab->attend(0.1);
            $lost = $this->lost($first, $this->state($stage, $tab), $i === 1 ? 'after the page was loaded again' : "after the page was loaded again {$i} times");
        }
        if ($lost === null) {
            $another = $tab->another();
            $stage->visitors->connect($another);
            $another->go($stage->page());
            $another->settle();
            $stage->awaitRuntime($another, 2.0);
            $lost = $this->lost($first, $this->state($stage, $another), 'in a new tab');
            $another->close();
        }
        $lost === null || $stage->evidence($tab, 'assignment');
        $visitor->leave();
        $lost ??= $this->afterRestart($stage, $variant, (string) $visitor->id);
        if ($lost !== null) {
            $outcome->found(new Finding(CheckCode::AssignmentLost, "Visitors lose their variant: {$lost[0]}.", $lost[1], 'See which script of the page deletes cookies that it does not know, or which setting keeps them from lasting.', $variant));
        } else {
            $outcome->proven(Link::Split, self::RELOADS.' reloads, a new tab and a restart of the browser keep “'.$variant.'”.', $variant);
        }
    }

    /** @param array{id: string|null, variant: string|null} $state */
    private function notKept(Stage $stage, Outcome $outcome, Visitor $visitor, array $state): void
    {
        $entered = $stage->received->exposures((string) $visitor->id, $stage->experiment->key);
        if ($entered === []) {
            // Whether visitors enter is asked for by itself.
            return;
        }
        $outcome->found(new Finding(
            CheckCode::AssignmentLost,
            'Visitors lose their variant: nothing of it is kept once the page is loaded.',
            $state['id'] === null ? 'The cookies plx_visitor and plx_variants are gone: something on the page deletes them.' : 'The cookie plx_variants is gone: something on the page deletes it.',
            'See which script of the page deletes cookies that it does not know.',
            $visitor->variant,
        ));
    }

    /**
     * @param array{id: string|null, variant: string|null} $first
     * @param array{id: string|null, variant: string|null} $now
     *
     * @return array{string, string}|null what is lost, and why
     */
    private function lost(array $first, array $now, string $when): ?array
    {
        return match (true) {
            $now['id'] === null => ["the cookie plx_visitor is gone {$when}", 'Something on the page deletes it, or the browser did not keep it.'],
            $now['id'] !== $first['id'] => ["the visitor has another id {$when}", "The cookie plx_visitor was {$first['id']}, and is {$now['id']}: it was dropped, and given anew."],
            $now['variant'] === null => ["the cookie plx_variants has lost it {$when}", 'Something on the page deletes it.'],
            $now['variant'] !== $first['variant'] => ["it is “{$now['variant']}” {$when}, and was “{$first['variant']}”", 'The cookie plx_variants was written by somebody else.'],
            default => null,
        };
    }

    /** @return array{string, string}|null */
    private function afterRestart(Stage $stage, string $variant, string $id): ?array
    {
        $state = [];
        foreach ([false, true] as $again) {
            $browser = $stage->visitors->lastingBrowser();
            try {
                $tab = $browser->lasting($stage->screen());
                $again || $stage->visitors->give($tab, 'plx_visitor', $id);
                $again || $stage->visitors->agree($tab);
                $stage->visitors->connect($tab);
                $tab->go($stage->page());
                $tab->settle();
                $stage->awaitRuntime($tab, 3.0);
                $tab->attend(0.3);
                $state[] = $this->state($stage, $tab);
                $tab->leave();
            } finally {
                $browser->end(! $again);
            }
        }

        return $this->lost($state[0], $state[1], 'after the browser was started again');
    }

    private function cookies(Stage $stage, Outcome $outcome, Tab $tab, string $variant): void
    {
        $cookies = $tab->cookies($stage->page());
        $wrong = [];
        $isSecure = str_starts_with($stage->page(), 'https:');
        $domain = $stage->cookieDomain();
        foreach (['plx_visitor', 'plx_variants'] as $name) {
            $cookie = $cookies[$name] ?? null;
            if ($cookie === null) {
                $wrong[] = "{$name} is not there";
                continue;
            }
            $days = $stage->site->cookie_days;
            $left = (float) $cookie['expires'] - microtime(true);
            abs($left - 86_400 * $days) <= self::SLACK || $wrong[] = "{$name} lasts ".round($left / 86_400, 1)." days, not {$days}";
            ($cookie['sameSite'] ?? '') === 'Lax' || $wrong[] = "{$name} is SameSite ".($cookie['sameSite'] ?? 'unset').', not Lax';
            ($cookie['secure'] ?? false) === $isSecure || $wrong[] = "{$name} is ".($isSecure ? 'not ' : '').'Secure';
            ($cookie['path'] ?? '') === '/' || $wrong[] = "{$name} is for the path {$cookie['path']}, not /";
            $domain === null || ltrim((string) $cookie['domain'], '.') === $domain || $wrong[] = "{$name} is for {$cookie['domain']}, not {$domain}";
        }
        if ($wrong !== []) {
            $outcome->found(new Finding(CheckCode::AssignmentCookie, 'The cookies are not as declared: '.implode('; ', $wrong).'.', '', 'See which script or server writes them, too.', $variant));
        } else {
            $outcome->proven(Link::Split, "The cookies last {$stage->site->cookie_days} days, for ".($domain ?? 'this host').', SameSite Lax'.($isSecure ? ', Secure.' : '.'), $variant);
        }
    }

    /** @return array{id: string|null, variant: string|null} what is kept of the visitor in the browser */
    private function state(Stage $stage, Tab $tab): array
    {
        $cookies = $tab->cookies($stage->page());
        $variant = null;
        foreach (explode('|', (string) ($cookies['plx_variants']['value'] ?? '')) as $pair) {
            [$experiment, $kept] = explode('~', $pair) + [1 => null];
            $variant = $experiment === $stage->experiment->key ? $kept : $variant;
        }

        return ['id' => $cookies['plx_visitor']['value'] ?? null, 'variant' => $variant];
    }

    /** Runs the site's file again and again in a page with nothing on it, each time for a visitor who has never been there. */
    private function quick(Stage $stage, Outcome $outcome): void
    {
        $assigner = $stage->experiment->assigner();
        $visitor = $stage->visitors->make(null, $stage->screen());
        $visitor->tab->guard([['urlPattern' => "{$stage->origin()}/*"]], static fn (): array => ['Fetch.fulfillRequest', ['responseCode' => 200, 'responseHeaders' => [['name' => 'Content-Type', 'value' => 'text/html']], 'body' => base64_encode('<!DOCTYPE html><title>Quick visitors</title>')]]);
        $visitor->tab->go($stage->page());
        $visitor->tab->settle(3.0, 0.0);
        $found = $visitor->tab->evaluate($this->asked($stage), false, 20.0);
        $visitor->leave();
        if (! is_array($found)) {
            $outcome->figures['quick'] = 0;

            return;
        }
        $counts = $overlap = [];
        $differing = 0;
        foreach ($found as [$id, $variant, $others]) {
            $expected = $assigner->variantOf((string) $id);
            $differing += $variant === $expected ? 0 : 1;
            $variant === null || $counts[$variant] = ($counts[$variant] ?? 0) + 1;
            if ($variant !== null && $stage->experiment->group !== null) {
                $overlap = [...$overlap, ...array_intersect((array) $others, $stage->members())];
            }
        }
        $outcome->figures['quick'] = ['visitors' => count($found), 'variants' => $counts, 'differing' => $differing];
        if ($differing > 0) {
            $outcome->found(new Finding(CheckCode::AssignmentDiffers, 'Of '.count($found)." quick visitors, {$differing} got another variant than the core computes.", 'The file that pages load assigns by another salt, share or weights.', 'Publish the experiment again, and see which number pages get.', evidence: ['step' => 'quick']));
        }
        if ($overlap !== []) {
            $outcome->found(new Finding(CheckCode::GroupOverlap, 'Visitors are in two experiments of the group: also in '.implode(', ', array_unique($overlap)).'.', 'Members of a group are to share nobody.', 'See whether the stretches of the group overlap, and publish again.'));
        }
        $this->split($stage, $outcome, $counts);
    }

    /** @param array<string, int> $counts */
    private function split(Stage $stage, Outcome $outcome, array $counts): void
    {
        $weighted = array_filter($stage->experiment->variants, static fn (DeclaredVariant $one): bool => $one->variant->weight > 0);
        $observed = array_values(array_map(static fn (DeclaredVariant $one): int => $counts[$one->variant->key] ?? 0, $weighted));
        if (array_sum($observed) === 0 || count($observed) < 2) {
            return;
        }
        ['p' => $p, 'test' => $test] = QuickSplit::test($observed, array_values(array_map(static fn (DeclaredVariant $one): float => $one->variant->weight, $weighted)));
        $words = implode(' : ', $observed);
        if ($p < $stage->site->srm_alpha) {
            $outcome->found(new Finding(CheckCode::AssignmentSplit, 'Of '.array_sum($observed)." quick visitors who entered, {$words} got the variants, which the weights do not explain.", 'p = '.sprintf('%.2g', $p)." ({$test}).", 'Rehearse again; if it stays, see whether the published file is as declared.', evidence: ['p' => $p]));
        } else {
            $outcome->proven(Link::Split, array_sum($observed)." quick visitors were split {$words}, as weighted (p = ".number_format($p, 2).", {$test}), and each as the core computes.");
        }
    }

    private function asked(Stage $stage): string
    {
        // The file that pages load; of an experiment that is not published yet, as it would be.
        $file = $stage->file === null ? 'fetch('.Probe::json("{$stage->pellix}/s/{$stage->site->key}.js").').then((answer) => answer.text())' : 'Promise.resolve('.Probe::json($stage->file).')';

        return "{$file}.then((file) => ".Probe::named('quick').'(file, '.Probe::json($stage->experiment->key).', '.self::QUICK.', '.Probe::json($stage->experiment->unit === 'user').'))';
    }
}
