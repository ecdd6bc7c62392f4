<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Shapes\RateBreak;
use Pellix\Core\Audit\Shapes\Where;
use Pellix\Core\Audit\Told;
use Pellix\Core\Statistics\Contingency;
use Pellix\Core\Statistics\Hypergeometric;
use Pellix\Core\Wiring\Findings\Severity;

/** Visitors who saw a page of the experiment and should have been in it, but of whom no exposure arrived. */
final class ExposureMissing implements Check
{
    /** Some leave before anything is sent (common practice, no source). */
    private const NOTED = 0.05;
    private const SPOILS = 0.1;
    private const FEWEST = 20;

    public function code(): AuditCode
    {
        return AuditCode::ExposureMissing;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        $experiment = $setup->experiment;
        $why = match (true) {
            ! $setup->settings->isRecomputed => 'The experiment file says that variants were assigned elsewhere, so nobody can tell who should have been in.',
            $experiment->trigger !== null && $experiment->trigger->kind->value !== 'page' => 'The experiment starts on a trigger that no page view tells of.',
            ! $experiment->recordsTellAudience => 'The audience rule asks for what no log tells, so nobody can tell who should have been in.',
            default => null,
        };
        if ($why !== null) {
            throw new NotRun($why);
        }
        [$due, $missing] = [$evidence->tally->split->due, $evidence->tally->split->missing];
        $all = $due->total();
        $lost = $missing->total();
        if ($all === 0) {
            throw new NotRun('The log has no page view that the page rule and the audience rule let in.');
        }
        $part = $lost / $all;
        if ($lost < self::FEWEST) {
            return [];
        }
        $variants = count($setup->variants);
        [$of, $off] = [$due->byVariant($variants), $missing->byVariant($variants)];
        $logEven = self::logEven($of, $off);
        $isUneven = $logEven < log($setup->alpha / 5);
        // Those who should have been in are those who were, and those who are missing.
        $in = $evidence->tally->split->exposed;
        $hours = static function (string $key) use ($in, $missing): array {
            $all = $in->hours($key);
            foreach ($missing->hours($key) as $hour => $number) {
                $all[$hour] = ($all[$hour] ?? 0) + $number;
            }

            return $all;
        };
        $where = Culprit::of($missing, static fn (string $key): int => $in->total($key) + $missing->total($key), $hours, $of, $setup);
        $break = RateBreak::of($missing->hours(), $due->hours(), false);
        // Since a moment, or in a part of the visitors, there is much even where in all there is little.
        $isLocal = ($where->segment !== null || $where->page !== null || $where->since !== null || $where->until !== null) && $where->rate > self::NOTED;
        $isBroken = $break !== null && $break->logP < log($setup->alpha / 5) && $break->inside > self::NOTED && $break->outside < 0.5 * $break->inside;
        if (! $isUneven && $part < self::NOTED && ! $isLocal && ! $isBroken) {
            return [];
        }
        if ($isUneven && $where->variant === null) {
            $rates = array_map(static fn (int $a, int $b): float => $a / max(1, $b), $off, $of);
            $where = new Where($setup->variants[(int) array_search(max([0.0, ...$rates]), $rates, true)], null, $where->page, $where->segment, $where->since, $where->until, $where->rate);
        }
        $variant = $isUneven ? $where->variant : null;

        return [new Finding(
            AuditCode::ExposureMissing,
            $isUneven || $part >= self::SPOILS || $where->rate >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($lost, 'visitor').' ('.Told::percent($part).') saw a page of the experiment and should have been in it, but no exposure of theirs arrived'.$where->told($setup->settings)
                .($isUneven ? '; not evenly: '.implode(', ', array_map(static fn (string $key, int $a, int $b): string => "{$key} ".Told::percent($a / max(1, $b)), $setup->variants, $off, $of)).'.' : '; evenly in all variants.'),
            $variant,
            page: $where->page,
            segment: $where->segment,
            since: $where->since,
            until: $where->until,
            numbers: ['missing' => $lost, 'due' => $all, 'part' => round($part, 6), 'by_variant' => array_combine($setup->variants, $off), 'p_even' => exp($logEven)],
            causes: ['The exposure is sent too late: the page is left before.', 'An error in the variant stops what comes after it.', 'Consent, a blocker or a policy lets page views through, but not this event.'],
            next: ['Rehearse '.($variant === null ? 'the experiment' : "variant {$variant}").$where->told($setup->settings, false).'.'],
            weight: max($part, $where->rate * 0.5),
        )];
    }

    /**
     * ln p of as many being missing of each variant: exact where there are two and few are to be expected.
     *
     * @param list<int> $due     visitors of each variant
     * @param list<int> $missing of them
     */
    private static function logEven(array $due, array $missing): float
    {
        $there = array_map(static fn (int $all, int $gone): int => $all - $gone, $due, $missing);
        $test = Contingency::test([$missing, $there]);

        return count($due) === 2 && $test->smallest < 5 ? Hypergeometric::logFisher([$missing[0], $there[0]], [$missing[1], $there[1]]) : $test->logP;
    }
}
