<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** Snippet: does the code run on those pages? A page view is its sign of life: nothing else sends one. */
final class SnippetLink
{
    public static function judge(Observations $seen): Verdict
    {
        $found = $seen->inspected;
        $evidence = $seen->pageViews->nothing() ? [] : [new Evidence(
            Words::count($seen->pageViews->count, 'page view').' sent by '.Words::count($seen->pageViews->visitors, 'visitor').' on matching pages',
            $seen->pageViews->last,
            'collector',
        )];
        $evidence = [...$evidence, ...$found->evidence()];
        if ($found->faulty > 0) {
            $none = $found->sound() === 0 && $seen->pageViews->nothing();

            return new Verdict(
                Link::Snippet,
                $none ? State::Broken : State::Doubt,
                'The snippet is missing or broken on '.Words::number($found->faulty).' of '.Words::count($found->inspected, 'inspected page').", such as {$found->example}.",
                $evidence,
            );
        }
        if ($seen->pageViews->nothing()) {
            return self::unheard($seen, $evidence);
        }

        return $seen->isStale($seen->pageViews->last)
            ? new Verdict(Link::Snippet, State::Stale, 'The snippet ran, but has not been heard from lately.', $evidence)
            : new Verdict(Link::Snippet, State::Holds, 'The snippet runs on the pages of the experiment.', $evidence);
    }

    /** @param list<Evidence> $evidence */
    private static function unheard(Observations $seen, array $evidence): Verdict
    {
        if ($seen->inspected->sound() > 0) {
            return new Verdict(Link::Snippet, State::Doubt, 'The snippet stands in the HTML of the pages, but has not been heard from.', $evidence);
        }
        if ($seen->siteViews->nothing()) {
            return new Verdict(Link::Snippet, State::Unseen, 'No beacon has come from any page of the site.', $evidence);
        }

        return new Verdict(
            Link::Snippet,
            State::Unseen,
            'Beacons come from the site, but none from a page of this experiment.',
            [new Evidence(Words::count($seen->siteViews->count, 'beacon').' from other pages', $seen->siteViews->last, 'collector'), ...$evidence],
        );
    }
}
