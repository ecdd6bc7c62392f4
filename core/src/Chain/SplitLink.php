<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

use Pellix\Core\Statistics\SampleRatio;

/** Split: do distinct visitors per variant follow the weights, and does each keep its variant? */
final class SplitLink
{
    /** More visitors than this part in several variants is a doubt (common practice, no source). */
    private const TOLERATED_CROSSED = 0.005;

    /** Where more than this part of a variant could be lost unseen, nothing was proven (common practice, no source). */
    private const LARGEST_UNSEEN = 0.5;

    public static function judge(Observations $seen): Verdict
    {
        if (! $seen->started) {
            return new Verdict(Link::Split, State::Unseen, 'Not started: nobody has been assigned.');
        }
        if ($seen->ratio === null) {
            return new Verdict(Link::Split, State::Unseen, $seen->exposedVisitors() > 0
                ? 'One variant alone takes visitors in, so there is no split to test.' : 'No visitor has been assigned to a variant.');
        }
        $last = $seen->entered->last;
        $visitors = $seen->exposedVisitors();
        $evidence = [
            new Evidence(self::counts($seen).'; p = '.Words::p($seen->ratio->logP), $last, "SRM test ({$seen->ratio->test})"),
            new Evidence(Words::count($seen->crossed, 'visitor').' seen in more than one variant', $last, 'collector'),
            ...($seen->moved === 0 ? [] : [new Evidence(Words::count($seen->moved, 'visitor').' moved to another variant when theirs was stopped, who count for none', $last, 'collector')]),
            new Evidence(
                Words::number($seen->disagreeing).' of '.Words::count($seen->recomputed, 'assignment').' differ when worked out again',
                $last,
                'recomputation',
            ),
        ];
        if ($seen->ratio->isMismatch()) {
            return new Verdict(Link::Split, State::Broken, self::mismatch($seen), $evidence);
        }
        if ($seen->disagreeing > 0) {
            return new Verdict(Link::Split, State::Doubt, 'Visitors were recorded in another variant than their id gives.', $evidence);
        }
        if ($seen->crossed > self::TOLERATED_CROSSED * ($visitors + $seen->crossed)) {
            return new Verdict(Link::Split, State::Doubt, 'Visitors change from one variant to another.', $evidence);
        }
        if (! $seen->canAlarm) {
            return new Verdict(Link::Split, State::Doubt, 'Too few visitors yet to tell a wrong split from chance.', $evidence);
        }

        $loss = SampleRatio::smallestLoss(array_sum($seen->ratio->observed), $seen->ratio->expected) ?? 1.0;
        $blind = Words::count(array_sum($seen->ratio->observed), 'visitor').': a loss under '.Words::percent($loss, 1).' would not show yet.';
        if ($loss > self::LARGEST_UNSEEN) {
            return new Verdict(Link::Split, State::Doubt, "Nothing speaks against the split so far, but {$blind}", $evidence);
        }

        return $seen->isStale($last)
            ? new Verdict(Link::Split, State::Stale, 'The split followed the weights, but nobody was assigned lately.', $evidence)
            : new Verdict(Link::Split, State::Holds, "Visitors split as the weights say. {$blind}", $evidence);
    }

    private static function counts(Observations $seen): string
    {
        return implode(', ', array_map(
            static fn (VariantSeen $v): string => "{$v->name} ".Words::number($v->exposures->visitors),
            $seen->variants,
        ));
    }

    /** Names the variant that is furthest from its expectation, relative to chance; of two equally far, the one that lost. */
    private static function mismatch(Observations $seen): string
    {
        $ratio = $seen->ratio;
        if ($ratio === null) {
            return '';
        }
        $distances = [];
        foreach ($ratio->observed as $i => $count) {
            $difference = $count - $ratio->expected[$i];
            $distances[$i] = $ratio->expected[$i] > 0 ? [-round($difference ** 2 / $ratio->expected[$i], 6), $difference] : [$count > 0 ? -INF : 0, 0];
        }
        asort($distances);
        $worst = (int) array_key_first($distances);
        $difference = $ratio->observed[$worst] - $ratio->expected[$worst];
        $name = $seen->variants[$worst]->name;

        return "Variant “{$name}” has ".Words::percent(abs($difference), $ratio->expected[$worst])
            .($difference < 0 ? ' fewer' : ' more').' visitors than its weight gives (p = '.Words::p($ratio->logP).').';
    }
}
