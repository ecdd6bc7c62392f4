<?php

declare(strict_types=1);

namespace App\Collector;

use Pellix\Core\Events\Event;
use Pellix\Core\Segments\Segments;

/** An event as a row of the table `events`, and of the ledger of ids. */
final class EventRow
{
    /**
     * @param int      $place         position within its beacon
     * @param int|null $configuration number of the published file that the visitor met
     *
     * @return array<string, mixed>
     */
    public static function of(int $site, Event $event, string $agent, \DateTimeImmutable $received, int $place = 0, ?int $configuration = null): array
    {
        $agent = mb_strcut(mb_scrub($agent, 'UTF-8'), 0, 512, 'UTF-8');
        $segments = Segments::of($event->props, $agent === '' || $agent === BackOffice::AGENT ? null : $agent);

        return [
            'site_id' => $site,
            'visitor' => $event->visitor,
            'time' => $event->time->format('Y-m-d H:i:s.v'),
            'event_id' => $event->id,
            'received' => $received->format('Y-m-d H:i:s.v'),
            'place' => $place,
            'clock_shift' => $event->clockShift,
            'name' => $event->name,
            'url' => $event->url,
            'page' => $event->page->id,
            'referrer' => $event->referrer,
            'agent' => $agent,
            'user' => $event->user,
            'unit' => $event->unit(),
            'configuration' => $configuration,
            'experiment' => $event->experiment(),
            'variant' => $event->variant(),
            'device' => $segments->device,
            'browser' => $segments->browser,
            'source' => $segments->source,
            'country' => $segments->country,
            'props' => $event->propsJson,
        ];
    }

    /**
     * @param object $row of `events`
     *
     * @return array<string, mixed>
     */
    public static function ledger(object $row): array
    {
        return [
            'site_id' => $row->site_id,
            'event_id' => $row->event_id,
            'visitor' => $row->visitor,
            'time' => $row->time,
            'received' => $row->received,
            // An order may be told of again long after; its id, where it was made from the order's number, stays.
            'lasting' => preg_match('/\A(?:server:|pixel:)?'.BackOffice::ORDER_ID.'/', $row->event_id) === 1 ? 1 : 0,
        ];
    }
}
