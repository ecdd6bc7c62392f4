<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** Page: do pages exist that the experiment is for? */
final class PageLink
{
    /** So many page views without a match are no accident (common practice, no source). */
    private const ENOUGH_VIEWS = 20;

    public static function judge(Observations $seen): Verdict
    {
        $site = $seen->siteViews;
        $pages = $seen->pageViews;
        $found = $seen->inspected;
        if ($pages->nothing()) {
            return self::unvisited($seen);
        }
        $evidence = [
            new Evidence(
                Words::count($pages->count, 'page view').' of matching pages, such as '.implode(', ', $seen->addresses),
                $pages->last,
                'collector',
            ),
            ...$found->evidence(),
        ];
        if ($found->unreachable > 0) {
            return new Verdict(Link::Page, State::Doubt, "Matching pages are visited, but not all can be fetched, such as {$found->example}.", $evidence);
        }

        return $seen->isStale($pages->last)
            ? new Verdict(Link::Page, State::Stale, 'Matching pages were seen, but not lately.', $evidence)
            : new Verdict(Link::Page, State::Holds, 'Pages that match the page rule are being visited.', $evidence);
    }

    private static function unvisited(Observations $seen): Verdict
    {
        $site = $seen->siteViews;
        $found = $seen->inspected;
        if ($found->inspected > $found->unreachable) {
            return new Verdict(Link::Page, State::Doubt, 'Pages that match the page rule exist, but no visit of one has been seen.', $found->evidence());
        }
        if ($site->nothing()) {
            return new Verdict(Link::Page, State::Unseen, 'No page of the site has been seen yet.', $found->evidence());
        }

        return new Verdict(
            Link::Page,
            $site->count >= self::ENOUGH_VIEWS ? State::Broken : State::Doubt,
            'No page that was seen matches the page rule.',
            [new Evidence(Words::count($site->count, 'page view').' of other pages', $site->last, 'collector'), ...$found->evidence()],
        );
    }
}
