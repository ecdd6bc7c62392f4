<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** Snippet: does the code run on those pages? A page view is its sign of life: nothing else sends one. */
final class SnippetLink
{
    public static function judge(Observations $seen): Verdict
    {
        if ($seen->siteViews->nothing()) {
            return new Verdict(Link::Snippet, State::Unseen, 'No beacon has come from any page of the site.');
        }
        if ($seen->pageViews->nothing()) {
            return new Verdict(
                Link::Snippet,
                State::Unseen,
                'Beacons come from the site, but none from a page of this experiment.',
                [new Evidence(Words::count($seen->siteViews->count, 'beacon').' from other pages', $seen->siteViews->last, 'collector')],
            );
        }
        $evidence = [new Evidence(
            Words::count($seen->pageViews->count, 'page view').' sent by '.Words::count($seen->pageViews->visitors, 'visitor').' on matching pages',
            $seen->pageViews->last,
            'collector',
        )];

        return $seen->isStale($seen->pageViews->last)
            ? new Verdict(Link::Snippet, State::Stale, 'The snippet ran, but has not been heard from lately.', $evidence)
            : new Verdict(Link::Snippet, State::Holds, 'The snippet runs on the pages of the experiment.', $evidence);
    }
}
