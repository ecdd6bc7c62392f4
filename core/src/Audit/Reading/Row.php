<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

/** How one event is put aside: a line of cells that tabs part, in this order. */
final class Row
{
    public const UNIT = 0;
    /** Milliseconds since 1970, `SINCE` added: so all have as many digits, and lines of one unit lie in the order of time when they are sorted as texts. */
    public const TIME = 1;
    /** 64 bits of a hash of its id, hexadecimal. */
    public const ID = 2;
    /** Milliseconds from then to its receipt, a letter before them that says how many digits they have, so that they sort as texts, too; empty where nobody knows. */
    public const DELAY = 3;
    /** What it is (see `What`): name, page (host and path), context (device, browser, source and country, parted by `PART`), flags and goals, parted by `BREAK`. */
    public const WHAT = 4;
    /** Host that the visitor came from, where it is another one. */
    public const REFERRER = 5;
    public const USER = 6;
    /** JSON of what some events have besides: properties, and for goals of several steps the address. */
    public const EXTRA = 7;

    public const CELLS = 8;

    public const SINCE = 2_000_000_000_000_000;

    /** What no cell may have in it as it is. */
    public const MARKS = "\t\n\\\x1e";

    public const BREAK = "\x1e";

    public const PART = "\x1f";

    /** The page and audience rules of that moment let it in. */
    public const ELIGIBLE = 1;
    public const ON_PAGE = 2;
    public const IN_AUDIENCE = 4;
    public const CRAWLER = 8;
    public const INTERNAL = 16;
    public const PERSONAL = 32;
    public const OFF_PLAN = 64;
    /** The page is one that the primary goal can be reached on. */
    public const GOAL_PAGE = 128;

    /**
     * @param list<string> $row
     *
     * @return int milliseconds since 1970
     */
    public static function time(array $row): int
    {
        return (int) $row[self::TIME] - self::SINCE;
    }

    /** @param int|null $delay milliseconds */
    public static function delayCell(?int $delay): string
    {
        return $delay === null ? '' : ($delay < 0 ? '-' : chr(64 + strlen((string) $delay))).$delay;
    }

    /** @param list<string> $row */
    public static function delay(array $row): ?int
    {
        return $row[self::DELAY] === '' ? null : (int) substr($row[self::DELAY], 1);
    }

    /**
     * @param list<string> $row
     *
     * @return int|null when it was received, in milliseconds since 1970; null where nobody knows
     */
    public static function received(array $row): ?int
    {
        return $row[self::DELAY] === '' ? null : self::time($row) + (int) substr($row[self::DELAY], 1);
    }

    /** A text as a cell. */
    public static function cell(string $text): string
    {
        return strpbrk($text, self::MARKS) === false ? $text : strtr($text, ['\\' => '\\\\', "\t" => '\\t', "\n" => '\\n', self::BREAK => '']);
    }

    public static function text(string $cell): string
    {
        return str_contains($cell, '\\') ? strtr($cell, ['\\\\' => '\\', '\\t' => "\t", '\\n' => "\n"]) : $cell;
    }
}
