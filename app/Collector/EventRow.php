<?php

declare(strict_types=1);

namespace App\Collector;

use Pellix\Core\Events\Event;

/** An event as a row of the table `events`. */
final class EventRow
{
    /** @return array<string, mixed> */
    public static function of(int $site, Event $event, string $agent, \DateTimeImmutable $received): array
    {
        return [
            'site_id' => $site,
            'event_id' => $event->id,
            'visitor' => $event->visitor,
            'user' => $event->user,
            'time' => $event->time->format('Y-m-d H:i:s.v'),
            'received' => $received->format('Y-m-d H:i:s.v'),
            'clock_shift' => $event->clockShift,
            'name' => $event->name,
            'url' => $event->url,
            'page' => self::page($event->url),
            'referrer' => $event->referrer,
            'agent' => mb_strcut(mb_scrub($agent, 'UTF-8'), 0, 512, 'UTF-8'),
            'props' => json_encode((object) $event->props, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES),
            'experiment' => $event->experiment(),
            'variant' => $event->variant(),
        ];
    }

    /** A short name for an address, to group and join by. */
    public static function page(string $url): string
    {
        return hash('xxh3', $url);
    }
}
