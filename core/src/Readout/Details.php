<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/** What stands behind the figures of a readout: its course, parts of the visitors, and how values are spread. */
final class Details
{
    /** @return array{segments: array<string, mixed>|null, course: array{item: string, days: list<array<string, mixed>>}|null, values: list<array<string, mixed>>} */
    public static function of(Readout $of): array
    {
        $primary = $of->subject->primary();

        return [
            'segments' => $primary === null ? null : SegmentResults::of($primary, $of->subject, $of->table, $of->look)->toArray(),
            'course' => $primary === null ? null : ['item' => $primary->key, 'days' => Course::of($primary, $of->subject, $of->table, $of->look)],
            'values' => array_values(array_filter(array_map(static fn (Item $item): ?array => Distribution::of($item, $of->subject, $of->table, $of->look), $of->subject->items))),
        ];
    }
}
