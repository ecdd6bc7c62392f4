<?php

namespace App\ReadModel;

use DateTimeImmutable;
use DateTimeZone;
use Pellix\Core\Counting\Participation;
use Pellix\Core\Pages\PageKey;

/** What a unit did in an experiment as a row of `participations`, and back. */
final class ParticipationRow
{
    /**
     * @param list<string> $parameters that tell one page of the site from another
     * @param string|null  $totals     what the unit comes to in the readout, JSON
     *
     * @return array<string, mixed>
     */
    public static function of(int $site, int $count, string $unit, Participation $did, array $parameters, ?string $totals): array
    {
        return [
            'site_id' => $site,
            'unit' => $unit,
            'count_id' => $count,
            'views' => $did->views,
            'exposures' => $did->exposures,
            'applied' => $did->applied,
            'missed' => $did->missed,
            'reverted' => $did->reverted,
            'failed' => $did->failed,
            'variant' => $did->variant,
            'crossed' => $did->crossed ? 1 : 0,
            'moved' => $did->moved ? 1 : 0,
            'epoch' => $did->epoch,
            'first' => $did->first?->format('Y-m-d H:i:s.v'),
            'last' => $did->last?->format('Y-m-d H:i:s.v'),
            'page' => $did->page === null ? null : PageKey::of($did->page, $parameters)->id,
            'device' => $did->segments?->device,
            'browser' => $did->segments?->browser,
            'source' => $did->segments?->source,
            'country' => $did->segments?->country,
            'totals' => $totals,
        ];
    }

    /** @param array<string, mixed> $row */
    public static function participation(array $row): Participation
    {
        static $utc = new DateTimeZone('UTC');

        return new Participation(
            (int) $row['views'],
            (int) $row['exposures'],
            (int) $row['applied'],
            (int) $row['missed'],
            $row['variant'],
            (bool) $row['crossed'],
            $row['epoch'] === null ? null : (int) $row['epoch'],
            $row['first'] === null ? null : new DateTimeImmutable($row['first'], $utc),
            $row['last'] === null ? null : new DateTimeImmutable($row['last'], $utc),
            reverted: (int) $row['reverted'],
            failed: (int) $row['failed'],
            moved: (bool) $row['moved'],
        );
    }
}
