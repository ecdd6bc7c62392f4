<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

/** Rows of an event log that are surely right: most are, and need not be read in the careful way, which costs more than all the rest. */
final class PlainRow
{
    /**
     * Whether `LogReader::event()` would take it as it is, its time left aside.
     *
     * @phpstan-assert-if-true array{id: string, visitor: string, name: string, time: string, url: string, props?: array<mixed>|null, user?: string|null, referrer?: string|null, agent?: string|null, received?: mixed} $row
     */
    public static function is(mixed $row): bool
    {
        return is_array($row)
            && is_string($row['id'] ?? null) && $row['id'] !== '' && strlen($row['id']) <= 200
            && is_string($row['visitor'] ?? null) && $row['visitor'] !== '' && strlen($row['visitor']) <= 200
            && is_string($row['name'] ?? null) && $row['name'] !== '' && strlen($row['name']) <= 200
            && is_string($row['url'] ?? null) && $row['url'] !== '' && strlen($row['url']) <= 2000
            && is_string($row['time'] ?? null)
            && (! isset($row['props']) || (is_array($row['props']) && (! array_is_list($row['props']) || $row['props'] === [])))
            && (! isset($row['user']) || self::isShort($row['user'])) && (! isset($row['referrer']) || self::isShort($row['referrer'])) && (! isset($row['agent']) || self::isShort($row['agent']));
    }

    private static function isShort(mixed $text): bool
    {
        return is_string($text) && strlen($text) <= 10_000;
    }
}
