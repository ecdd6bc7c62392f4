<?php

namespace App\ReadModel;

use DateTimeImmutable;
use DateTimeZone;
use Pellix\Core\Goals\Hit;

/** A hit as a row of `goal_hits`, and back. */
final class HitRow
{
    /** @return array<string, mixed> */
    public static function of(int $site, int $count, Hit $hit, bool $counts = true): array
    {
        return [
            'site_id' => $site,
            'visitor' => $hit->visitor,
            'count_id' => $count,
            'time' => $hit->time->format('Y-m-d H:i:s.v'),
            'event_id' => $hit->event(),
            'user' => $hit->user,
            'session' => $hit->session->format('Y-m-d H:i:s.v'),
            'url' => $hit->url,
            'events' => json_encode($hit->events, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES),
            'value' => $hit->value === null ? null : number_format($hit->value, 6, '.', ''),
            'currency' => $hit->currency === null || preg_match('/\A[A-Z]{3}\z/', $hit->currency) !== 1 ? null : $hit->currency,
            'order_id' => $hit->order === null ? null : mb_strcut($hit->order, 0, 200, 'UTF-8'),
            'counts' => $counts ? 1 : 0,
        ];
    }

    /** @param array<string, mixed> $row */
    public static function hit(array $row): Hit
    {
        static $utc = new DateTimeZone('UTC');

        return new Hit(
            $row['visitor'],
            new DateTimeImmutable($row['session'], $utc),
            new DateTimeImmutable($row['time'], $utc),
            $row['url'],
            [$row['event_id']],
            null,
            null,
            $row['order_id'],
            $row['user'],
        );
    }

    /**
     * Whether two rows say the same.
     *
     * @param array<string, mixed> $a
     * @param array<string, mixed> $b
     */
    public static function same(array $a, array $b): bool
    {
        return (int) $a['counts'] === (int) $b['counts'] && $a['session'] === $b['session'] && $a['events'] === $b['events'] && $a['user'] === $b['user']
            && $a['order_id'] === $b['order_id'] && $a['url'] === $b['url'] && $a['currency'] === $b['currency'] && $a['value'] === $b['value'];
    }

    /** @param array<string, mixed> $row */
    public static function key(array $row): string
    {
        return "{$row['count_id']} {$row['time']} {$row['event_id']}";
    }
}
