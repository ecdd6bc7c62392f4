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
        if (! is_array($row)) {
            return false;
        }
        $id = $row['id'] ?? null;
        $visitor = $row['visitor'] ?? null;
        $name = $row['name'] ?? null;
        $url = $row['url'] ?? null;
        $props = $row['props'] ?? [];

        return is_string($id) && $id !== '' && strlen($id) <= 200
            && is_string($visitor) && $visitor !== '' && strlen($visitor) <= 200
            && is_string($name) && $name !== '' && strlen($name) <= 200
            && is_string($url) && $url !== '' && strlen($url) <= 2000
            && is_string($row['time'] ?? null)
            && is_array($props) && ($props === [] || ! array_is_list($props))
            && self::isShort($row['user'] ?? '') && self::isShort($row['referrer'] ?? '') && self::isShort($row['agent'] ?? '');
    }

    private static function isShort(mixed $text): bool
    {
        return is_string($text) && strlen($text) <= 10_000;
    }
}
