<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Ready;

use Pellix\Core\Chain\Words;
use Pellix\Core\Experiments\Advice\CopiedPage;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\Experiment;

/** Whether the pages of an experiment are known, carry the snippet, and have a guard where a change would be seen to happen. */
final class ReadyPages
{
    /** Among so many of the first elements of a page's body, what is changed is taken to be seen at once (common practice, no source). */
    private const FIRST_ELEMENTS = 60;

    /** @return list<ReadyPoint> */
    public static function of(ReadyFacts $facts, Experiment $experiment): array
    {
        return [self::known($facts), self::snippet($facts), ...self::guard($facts, $experiment)];
    }

    private static function known(ReadyFacts $facts): ReadyPoint
    {
        $inspected = $facts->seen->inspected;
        $views = $facts->seen->pageViews;
        if ($inspected->known === 0 && $views->count === 0) {
            return new ReadyPoint(ReadyCode::Pages, ReadyState::Blocker, 'No known page matches its page rule, and no page view was received from one that does.');
        }

        return new ReadyPoint(ReadyCode::Pages, ReadyState::Fine, Words::count($inspected->known, 'known page').($inspected->known === 1 ? ' matches' : ' match').', with '.Words::count($views->count, 'page view').' in the last week.', $views->last);
    }

    private static function snippet(ReadyFacts $facts): ReadyPoint
    {
        $seen = $facts->seen;
        $inspected = $seen->inspected;
        $example = $inspected->example === null ? [] : [$inspected->example];
        $bad = $inspected->faulty + $inspected->unreachable;
        if ($bad > 0) {
            return new ReadyPoint(ReadyCode::Snippet, ReadyState::Blocker, Words::count($bad, 'page').' of '.$inspected->known.' '.($inspected->unreachable > 0 && $inspected->faulty === 0 ? 'could not be fetched' : 'would not run the snippet').' at the last inspection.', $inspected->last, examples: $example);
        }
        // A page view is sent by the snippet: whoever sends it runs it.
        $unseen = $inspected->known === 0 ? 'no page is known that it is for' : Words::count($inspected->known - $inspected->inspected, 'page')." of {$inspected->known} never inspected";
        $arrives = $seen->pageViews->count > 0 && ! self::isOld($facts, $seen->pageViews->last);
        if ($inspected->inspected < $inspected->known || $inspected->known === 0) {
            return $arrives
                ? new ReadyPoint(ReadyCode::Snippet, ReadyState::Advice, ucfirst($unseen).'; page views do arrive from its pages.', $seen->pageViews->last)
                : new ReadyPoint(ReadyCode::Snippet, ReadyState::Blocker, "Nothing proves that the snippet runs on its pages: {$unseen}, and no page view of late.", $inspected->last);
        }
        if (self::isOld($facts, $inspected->last)) {
            return new ReadyPoint(ReadyCode::Snippet, $arrives ? ReadyState::Advice : ReadyState::Blocker, 'The last inspection of its pages is older than the site\'s limit'.($arrives ? '; page views do arrive from them.' : ', and no page view arrives from them.'), $inspected->last);
        }

        return new ReadyPoint(ReadyCode::Snippet, ReadyState::Fine, 'The snippet stands on '.($inspected->known === 1 ? 'its one page.' : "all {$inspected->known} pages."), $inspected->last);
    }

    private static function isOld(ReadyFacts $facts, ?\DateTimeImmutable $at): bool
    {
        return $at === null || $facts->seen->now->getTimestamp() - $at->getTimestamp() > $facts->seen->freshSeconds;
    }

    /** @return list<ReadyPoint> */
    private static function guard(ReadyFacts $facts, Experiment $experiment): array
    {
        $page = $facts->copies[0] ?? null;
        $seen = $unknown = false;
        foreach ($experiment->variants as $variant) {
            $seen = $seen || $variant->target !== null;
            foreach ($variant->made() as $change) {
                $isAbove = self::isAbove($change, $page);
                $seen = $seen || $isAbove === true;
                $unknown = $unknown || $isAbove === null;
            }
        }
        $guarded = $page !== null && ($page->copy->find('script[data-pellix-guard]') ?? []) !== [];

        return [match (true) {
            $guarded => new ReadyPoint(ReadyCode::Guard, ReadyState::Fine, 'The flicker guard stands on its page.', examples: [$page->url]),
            $seen => new ReadyPoint(ReadyCode::Guard, ReadyState::Advice, 'It changes what visitors see at once, and no flicker guard stands on the page: they will see the change happen.', examples: $page === null ? [] : [$page->url]),
            $unknown || $page === null => new ReadyPoint(ReadyCode::Guard, ReadyState::Advice, 'Nobody knows whether what it changes is seen at once: '.($page === null ? 'no inspected page is kept of those that it is for.' : 'its elements are not in the page as it was inspected.')),
            default => new ReadyPoint(ReadyCode::Guard, ReadyState::Fine, 'What it changes stands further down the page.', examples: [$page->url]),
        }];
    }

    /** @return bool|null null where nobody knows */
    private static function isAbove(Change $change, ?CopiedPage $page): ?bool
    {
        if ($change->selector === null) {
            // A sheet or a script can change anything.
            return true;
        }
        $found = $page?->copy->find($change->selector);
        if ($page === null || $found === null || $found === []) {
            return null;
        }
        $all = $page->copy->find('body *') ?? [];
        foreach (array_slice($all, 0, self::FIRST_ELEMENTS) as $element) {
            if (in_array($element, $found, true)) {
                return true;
            }
        }

        return false;
    }
}
