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
        if ($site->nothing()) {
            return new Verdict(Link::Page, State::Unseen, 'No page of the site has been seen yet.');
        }
        if ($pages->nothing()) {
            return new Verdict(
                Link::Page,
                $site->count >= self::ENOUGH_VIEWS ? State::Broken : State::Doubt,
                'No page that was seen matches the page rule.',
                [new Evidence(Words::count($site->count, 'page view').' of other pages', $site->last, 'collector')],
            );
        }
        $evidence = [new Evidence(
            Words::count($pages->count, 'page view').' of matching pages, such as '.implode(', ', $seen->addresses),
            $pages->last,
            'collector',
        )];

        return $seen->isStale($pages->last)
            ? new Verdict(Link::Page, State::Stale, 'Matching pages were seen, but not lately.', $evidence)
            : new Verdict(Link::Page, State::Holds, 'Pages that match the page rule are being visited.', $evidence);
    }
}
