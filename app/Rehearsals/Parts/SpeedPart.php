<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Outcome;
use App\Rehearsals\Probe;
use App\Rehearsals\Stage;
use App\Rehearsals\Visitor;
use Pellix\Core\Chain\Link;
use Pellix\Core\Rehearsal\Paired;

/** What the snippet costs the page: loads with it and without it, in pairs, one after the other. An estimate on this machine. */
final readonly class SpeedPart implements Part
{
    private const PAIRS = 4;

    public function play(Stage $stage, ?string $variant): Outcome
    {
        $outcome = new Outcome();
        if (! $stage->runs()) {
            return $outcome;
        }
        $stage->say('What the snippet costs');
        $with = $without = [];
        // One page, emptied before each load: another browser window each time would cost more than what is measured.
        $visitor = $stage->visitors->make($stage->control()->variant->key, $stage->screen());
        $visitor->tab->prepare(Probe::watch([]));
        $visitor->tab->execute('Performance.enable', ['timeDomain' => 'threadTicks']);
        for ($i = 0; $i < self::PAIRS; $i++) {
            // Each first in turn: whatever the machine does meanwhile falls on both.
            foreach ($i % 2 === 0 ? [true, false] : [false, true] as $isThere) {
                $measured = $this->load($stage, $visitor, $isThere);
                if ($measured === null) {
                    $visitor->leave();

                    return $outcome;
                }
                $isThere ? $with[] = $measured : $without[] = $measured;
            }
        }
        $visitor->leave();
        foreach (['main_ms', 'lcp_ms', 'requests', 'bytes'] as $name) {
            $pair = new Paired(array_column($with, $name), array_column($without, $name));
            $outcome->figures[$name] = ['median' => round($pair->median, 1), 'least' => round($pair->least, 1), 'most' => round($pair->most, 1)];
        }
        $of = $outcome->figures;
        $outcome->proven(Link::Snippet, sprintf(
            'The snippet costs this page %s requests and %s of transfer, about %s ms of the main thread (%s to %s) and %s ms of the largest paint (%s to %s): an estimate from %d pairs of loads on this machine.',
            self::number($of['requests']['median']),
            self::number($of['bytes']['median'] / 1000).' KB',
            self::number($of['main_ms']['median']),
            self::number($of['main_ms']['least']),
            self::number($of['main_ms']['most']),
            self::number($of['lcp_ms']['median']),
            self::number($of['lcp_ms']['least']),
            self::number($of['lcp_ms']['most']),
            self::PAIRS,
        ));

        return $outcome;
    }

    /** @return array{main_ms: float, lcp_ms: float, requests: float, bytes: float}|null */
    private function load(Stage $stage, Visitor $visitor, bool $isThere): ?array
    {
        $tab = $visitor->tab;
        $stage->visitors->empty($tab, $isThere);
        $visitor->id === null || $stage->visitors->give($tab, 'plx_visitor', $visitor->id);
        $stage->visitors->agree($tab);
        $before = $tab->busySeconds();
        $stage->visitors->open($visitor);
        $settled = $tab->settle(8.0);
        $isThere && $stage->awaitRuntime($tab, 2.0);
        $tab->attend(0.3);
        $told = (array) $tab->evaluate('pellixWatch.told()', true);
        $requests = array_filter($tab->watch->requests, static fn (array $one): bool => $one['blocked'] === null && $one['failed'] === null);
        if ($tab->hangs || ! $settled) {
            return null;
        }

        return [
            'main_ms' => 1000 * max(0.0, $tab->busySeconds() - $before),
            'lcp_ms' => (float) ($told['largest'] ?? 0),
            'requests' => (float) count($requests),
            'bytes' => (float) array_sum(array_column($requests, 'bytes')),
        ];
    }

    private static function number(float $value): string
    {
        return rtrim(rtrim(number_format($value, 1, '.', ' '), '0'), '.') ?: '0';
    }
}
