<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** Data: do events arrive whole and in time? */
final class DataLink
{
    /** A larger part of rejected events is a doubt, and a much larger one a break (common practice, no source). */
    private const TOLERATED_REJECTED = 0.01;

    private const BROKEN_REJECTED = 0.2;

    public static function judge(Observations $seen): Verdict
    {
        $events = $seen->accepted + $seen->rejected->count;
        if ($events === 0) {
            return new Verdict(Link::Data, State::Unseen, 'No event has been received.');
        }
        $evidence = [
            new Evidence(Words::count($seen->accepted, 'event').' accepted for the site', $seen->siteViews->last, 'collector'),
            new Evidence(
                Words::count($seen->rejected->count, 'event').' rejected'.($seen->commonReason === null ? '' : ", mostly for {$seen->commonReason}"),
                $seen->rejected->last,
                'collector',
            ),
        ];
        $part = $seen->rejected->count / $events;
        if ($part > self::TOLERATED_REJECTED) {
            return new Verdict(
                Link::Data,
                $part > self::BROKEN_REJECTED ? State::Broken : State::Doubt,
                Words::percent($seen->rejected->count, $events)." of what arrives is rejected, mostly for {$seen->commonReason}.",
                $evidence,
            );
        }
        if (! $seen->started) {
            return new Verdict(Link::Data, State::Unseen, 'Not started: the experiment has no data of its own yet.', $evidence);
        }
        if ($seen->entered->nothing()) {
            return new Verdict(Link::Data, State::Unseen, 'Events arrive from the site, but none from this experiment.', $evidence);
        }

        return $seen->isStale($seen->entered->last)
            ? new Verdict(Link::Data, State::Stale, 'Nothing of this experiment has arrived lately.', $evidence)
            : new Verdict(Link::Data, State::Holds, 'Events arrive whole and in time.', $evidence);
    }
}
