<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

use Pellix\Core\Statistics\SampleRatio;

/** Entry: do as many eligible visitors enter as the share says? */
final class EntryLink
{
    /** With a share of 1 everybody should enter; more than this part staying out is a doubt (common practice, no source). */
    private const TOLERATED_OUTSIDE = 0.02;

    public static function judge(Observations $seen): Verdict
    {
        $eligible = $seen->pageViews->visitors;
        if (! $seen->started) {
            return new Verdict(Link::Entry, State::Unseen, 'Not started: nobody may enter yet.');
        }
        if ($eligible === 0) {
            return new Verdict(Link::Entry, State::Unseen, 'No eligible visitor has been seen.');
        }
        $entered = min($seen->entered->visitors, $eligible);
        $evidence = [new Evidence(
            Words::number($entered).' of '.Words::count($eligible, 'eligible visitor').' entered ('
                .Words::percent($entered, $eligible).'; declared '.Words::percent($seen->share, 1).')',
            $seen->entered->last ?? $seen->pageViews->last,
            'collector',
        )];
        if ($entered === 0) {
            return $seen->eligibleKnown ? self::nobody($seen, $evidence) : new Verdict(Link::Entry, State::Unseen, 'Nobody has entered. Who belongs to the audience is not recorded.', $evidence);
        }
        if (! $seen->eligibleKnown) {
            return new Verdict(Link::Entry, $seen->isStale($seen->entered->last) ? State::Stale : State::Holds, 'Visitors enter. How many of them might is not recorded: the audience asks for something that only a browser knows.', $evidence);
        }
        if (self::isOff($entered, $eligible, $seen->share)) {
            $words = $entered / $eligible < $seen->share ? 'Fewer visitors enter than the share says.' : 'More visitors enter than the share says.';

            return new Verdict(Link::Entry, State::Doubt, $words, $evidence);
        }

        return $seen->isStale($seen->entered->last)
            ? new Verdict(Link::Entry, State::Stale, 'Visitors entered as declared, but none lately.', $evidence)
            : new Verdict(Link::Entry, State::Holds, 'Visitors enter as declared.', $evidence);
    }

    /** @param list<Evidence> $evidence */
    private static function nobody(Observations $seen, array $evidence): Verdict
    {
        // The chance that all stay out although the share lets them in.
        $chance = (1 - $seen->share) ** $seen->pageViews->visitors;

        return $chance < SampleRatio::ALPHA
            ? new Verdict(Link::Entry, State::Broken, 'Eligible visitors come, but none enters.', $evidence)
            : new Verdict(Link::Entry, State::Doubt, 'None of the few eligible visitors has entered.', $evidence);
    }

    private static function isOff(int $entered, int $eligible, float $share): bool
    {
        return $share >= 1
            ? ($eligible - $entered) / $eligible > self::TOLERATED_OUTSIDE
            : SampleRatio::test([$entered, $eligible - $entered], [$share, 1 - $share])->isMismatch();
    }
}
