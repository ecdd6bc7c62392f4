<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Events\EventName;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\Sessions;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Rules\PageRule;

/** The shortest way that recorded visits took from a page of an experiment to a goal, as steps. */
final class Way
{
    private const LONGEST = 20;

    /** A click that a page view follows within so many seconds led to it (common practice, no source). */
    private const SECONDS = 8;

    /**
     * @param list<list<LogEvent>> $visits of one visitor each, in the order of time
     *
     * @return list<array<string, mixed>>|null steps after the page was opened; null where no visit took a way
     */
    public static function shortest(Goal $goal, PageRule $pages, array $visits): ?array
    {
        $best = null;
        foreach ($visits as $events) {
            foreach (self::ways($goal, $pages, $events) as $way) {
                $steps = self::steps($way);
                if (count($steps) <= self::LONGEST && ($best === null || count($steps) < count($best))) {
                    $best = $steps;
                }
            }
        }

        return $best;
    }

    /**
     * @param list<LogEvent> $events
     *
     * @return list<list<LogEvent>> the events from the last view of such a page up to each time that the goal was reached
     */
    private static function ways(Goal $goal, PageRule $pages, array $events): array
    {
        $ways = [];
        foreach (HitFinder::find($goal, $events, Sessions::of($events)) as $hit) {
            $begin = $end = null;
            foreach ($events as $i => $event) {
                $end = $event->id === $hit->event() ? $i : $end;
                // A sequence may begin with the page itself: the first event of the hit is on the way.
                $isFirst = $event->id === $hit->events[0];
                $begin = $end === null && $event->name === EventName::PageView->value && $pages->matches($event->url) && ($begin === null || ! self::hasBegun($hit->events, $events, $i)) ? $i : $begin;
                if ($isFirst && $begin === null) {
                    break;
                }
            }
            if ($begin !== null && $end !== null && $end > $begin) {
                $ways[] = array_slice($events, $begin, $end - $begin + 1);
            }
        }

        return $ways;
    }

    /**
     * @param list<string>   $hit    ids
     * @param list<LogEvent> $events
     */
    private static function hasBegun(array $hit, array $events, int $before): bool
    {
        if (count($hit) < 2) {
            return false;
        }
        for ($i = 0; $i < $before; $i++) {
            if (in_array($events[$i]->id, $hit, true)) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param list<LogEvent> $way
     *
     * @return list<array<string, mixed>>
     */
    private static function steps(array $way): array
    {
        $steps = [];
        $clicks = [];
        $here = $way[0]->url;
        foreach (array_slice($way, 1) as $event) {
            if ($event->name === EventName::PageView->value) {
                if ($event->url !== $here) {
                    $last = $clicks === [] ? null : $clicks[count($clicks) - 1];
                    $led = $last !== null && $event->time->getTimestamp() - $last->time->getTimestamp() <= self::SECONDS ? array_pop($clicks) : null;
                    // A form that is sent by a button: the button is what somebody touches.
                    $button = $led?->name === EventName::FormSubmit->value && $clicks !== [] && self::sends($clicks[count($clicks) - 1], $led) ? array_pop($clicks) : null;
                    $led = $button ?? $led;
                    $steps = [...$steps, ...self::clicks($clicks)];
                    $steps[] = ['do' => StepKind::Follow->value, 'path' => self::path($event->url, $here), ...($led === null || ($led->text('path') ?? '') === '' ? [] : ['element' => self::selector((string) $led->text('path'))])];
                    $clicks = [];
                }
                $here = $event->url;
            } elseif (in_array($event->name, [EventName::Click->value, EventName::FormSubmit->value], true)) {
                $clicks[] = $event;
            } elseif ($event->name === EventName::Scroll->value && $event === $way[count($way) - 1]) {
                $steps[] = ['do' => StepKind::Scroll->value, 'percent' => min(100, (int) $event->number('percent'))];
            } elseif ($event->name === EventName::Engaged->value && $event === $way[count($way) - 1]) {
                $steps[] = ['do' => StepKind::Wait->value, 'seconds' => min(Step::LONGEST_WAIT, 1 + (int) $event->number('seconds'))];
            }
        }

        return [...$steps, ...self::clicks($clicks)];
    }

    /**
     * @param list<LogEvent> $events clicks and forms that were sent
     *
     * @return list<array<string, mixed>>
     */
    private static function clicks(array $events): array
    {
        $steps = [];
        foreach ($events as $i => $event) {
            $path = $event->text('path') ?? '';
            $next = $events[$i + 1] ?? null;
            // A form that is sent by a button is sent by the click on it.
            if ($path !== '' && ! ($next !== null && self::sends($event, $next))) {
                $steps[] = ['do' => $event->name === EventName::Click->value ? StepKind::Click->value : StepKind::Submit->value, 'element' => self::selector($path)];
            }
        }

        return $steps;
    }

    /** Whether a click sent a form. */
    private static function sends(LogEvent $click, LogEvent $sent): bool
    {
        return $click->name === EventName::Click->value && $sent->name === EventName::FormSubmit->value && $sent->time->getTimestamp() - $click->time->getTimestamp() <= 1;
    }

    /** The end of a path that begins at its last id: what stands above may be another in another variant. */
    private static function selector(string $path): string
    {
        $parts = explode('>', $path);
        for ($i = count($parts) - 1; $i > 0; $i--) {
            if (str_contains($parts[$i], '#')) {
                break;
            }
        }

        return implode('>', array_slice($parts, $i));
    }

    private static function path(string $url, string $here): string
    {
        $path = (string) preg_replace('~\Ahttps?://[^/?#]+~i', '', $url);
        // What a visit brought along as a query may be of that one visitor.
        $path = (string) preg_replace('~[?#].*\z~s', '', $path);

        return AddressFacts::of($url)->host === AddressFacts::of($here)->host ? ($path === '' ? '/' : $path) : (string) preg_replace('~[?#].*\z~s', '', $url);
    }
}
