<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Outcome;
use App\Rehearsals\Stage;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\RedirectJudge;
use Pellix\Core\Rehearsal\RedirectSeen;

/** Where a variant of a redirect test leads to: with everything that the visitor brought, once, and with a way back. */
final readonly class RedirectPart implements Part
{
    /** What a visitor brings along, so that it can be told whether it is there in the end. */
    private const QUERY = 'utm_source=pellix-rehearsal&colour=dark';
    private const FRAGMENT = 'part-two';

    public function play(Stage $stage, ?string $variant): Outcome
    {
        $outcome = new Outcome();
        if (! $stage->runs()) {
            return $outcome;
        }
        $declared = $stage->variant((string) $variant);
        $stage->say("Where “{$declared->name}” leads to");
        $visitor = $stage->visitors->make($variant, $stage->screen());
        if ($visitor->id === null) {
            $visitor->leave();

            return $outcome;
        }
        $tab = $visitor->tab;
        // Somewhere to come from, and to go back to.
        $before = $stage->origin().'/robots.txt';
        $tab->go($before);
        $tab->settle(5.0, 0.0);
        $start = $stage->page().(str_contains($stage->page(), '?') ? '&' : '?').self::QUERY.'#'.self::FRAGMENT;
        $begin = microtime(true);
        $tab->watch->forget();
        $tab->evaluate('location.href = '.json_encode($start, JSON_THROW_ON_ERROR));
        $tab->attend(0.3);
        $tab->settle(10.0, 0.5);
        $runs = $stage->awaitRuntime($tab, 3.0);
        $took = microtime(true) - $begin;
        $hops = array_values(array_filter($tab->watch->addresses, static fn (string $one): bool => ! str_starts_with($one, 'about:')));
        $landed = $tab->address();
        $documents = array_values(array_filter($tab->watch->requests, static fn (array $one): bool => $one['type'] === 'Document'));
        $exposed = $stage->awaitReceived($tab, fn (): ?array => $stage->received->exposures((string) $visitor->id, $stage->experiment->key) ?: null, 4.0) ?? [];
        $views = array_values(array_filter($stage->received->events((string) $visitor->id), static fn (LogEvent $event): bool => $event->name === 'page_view'));
        $plain = $this->plain($stage);
        $back = $this->wayBack($stage, $tab, $before);
        $picture = $tab->picture('jpeg');
        $picture === null || $stage->keep('now.jpg', 'image/jpeg', $picture);
        $seen = new RedirectSeen(
            $start,
            (string) $declared->target,
            $landed,
            $hops,
            array_map(static fn (array $one): array => ['url' => $one['url'], 'status' => $one['status'], 'location' => $one['response']['location'] ?? $one['response']['Location'] ?? null], $documents),
            $tab->watch->noted('unreachable') ?? ($runs ? null : ''),
            count($exposed),
            $views === [] ? null : (string) ($views[count($views) - 1]->props['entry_referrer'] ?? ''),
            $before,
            $back,
            max(0.0, $took - $plain),
        );
        $outcome->take(...RedirectJudge::judge($seen, (string) $variant));
        $outcome->take(...RedirectJudge::proofs($seen, (string) $variant, $outcome->findings));
        $outcome->findings === [] || $stage->evidence($tab, "redirect-{$variant}");
        $outcome->figures = ['landed' => $landed, 'hops' => $hops, 'cost_ms' => (int) round(1000 * $seen->cost)];
        if (! array_filter($outcome->findings, static fn (Finding $one): bool => $one->code === CheckCode::RedirectLoop)) {
            $outcome->noteAll($tab->watch, $variant, null);
        }
        $visitor->leave();

        return $outcome;
    }

    /** How long the original takes by itself, in seconds: what the way over another page costs is said beside it. */
    private function plain(Stage $stage): float
    {
        $control = $stage->control();
        $visitor = $stage->visitors->make($control->variant->key, $stage->screen());
        $begin = microtime(true);
        $stage->visitors->open($visitor);
        $visitor->tab->attend(0.3);
        $visitor->tab->settle(10.0, 0.5);
        $stage->awaitRuntime($visitor->tab, 3.0);
        $visitor->leave();

        return microtime(true) - $begin;
    }

    private function wayBack(Stage $stage, \App\Rehearsals\Browser\Tab $tab, string $before): string
    {
        $tab->evaluate('history.back()');
        $tab->attend(0.4);
        $tab->settle(6.0, 0.5);

        return $tab->address();
    }
}
