<?php

namespace App\ReadModel;

use DateTimeInterface;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Periods;

/** What a whole site received by the hour: the background that experiments are judged against. An hour counts whole. */
final class SiteHours
{
    /** @var list<array{by: string, item: string, hour: string, n: int, last: string}> */
    private array $hours = [];

    public function __construct(int $site, ?DateTimeInterface $since)
    {
        foreach (DB::select(
            "select `by`, if(`by` = 'rejected' or item = 'page_view', item, '') as item, hour, sum(n) as n, max(last) as last from volumes
             where site_id = ? and `by` in ('event', 'rejected') and hour >= ? group by 1, 2, 3",
            [$site, $since?->format('Y-m-d H:00:00') ?? '1970-01-01'],
        ) as $row) {
            $this->hours[] = ['by' => $row->by, 'item' => $row->item, 'hour' => $row->hour, 'n' => (int) $row->n, 'last' => $row->last];
        }
    }

    /** @return array{accepted: int, views: array{count: int, last: string|null}, rejected: array{count: int, last: string|null}, common_reason: string|null} */
    public function within(Periods $ran): array
    {
        $accepted = 0;
        $views = $rejected = ['count' => 0, 'last' => null];
        $reasons = [];
        $ranges = array_map(static fn (array $one): array => [$one[0]->format('Y-m-d H:00:00'), $one[1]?->format('Y-m-d H:i:s') ?? '9999'], $ran->all);
        foreach ($this->hours as $hour) {
            if (! self::isWithin($hour['hour'], $ranges)) {
                continue;
            }
            if ($hour['by'] === 'rejected') {
                $rejected = ['count' => $rejected['count'] + $hour['n'], 'last' => max($rejected['last'], $hour['last'])];
                $reasons[$hour['item']] = ($reasons[$hour['item']] ?? 0) + $hour['n'];
                continue;
            }
            $accepted += $hour['n'];
            if ($hour['item'] === 'page_view') {
                $views = ['count' => $views['count'] + $hour['n'], 'last' => max($views['last'], $hour['last'])];
            }
        }
        arsort($reasons);

        return ['accepted' => $accepted, 'views' => $views, 'rejected' => $rejected, 'common_reason' => array_key_first($reasons)];
    }

    /** @param list<array{string, string}> $ranges */
    private static function isWithin(string $hour, array $ranges): bool
    {
        foreach ($ranges as [$from, $to]) {
            if ($hour >= $from && $hour <= $to) {
                return true;
            }
        }

        return false;
    }
}
