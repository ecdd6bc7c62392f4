<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

/** How one event is put aside: a line of cells that tabs part, in this order. */
final class Row
{
    public const UNIT = 0;
    /** Milliseconds since 1970. */
    public const TIME = 1;
    /** Milliseconds from then to its receipt; empty where nobody knows. */
    public const DELAY = 2;
    /** 64 bits of a hash of its id, hexadecimal. */
    public const ID = 3;
    /** What it is: name, page (host and path) and context (device, browser, source and country, parted by `PART`), parted by `BREAK`. */
    public const WHAT = 4;
    public const FLAGS = 5;
    /** Bit by bit, the goals that it may be a hit of. */
    public const GOALS = 6;
    /** Host that the visitor came from, where it is another one. */
    public const REFERRER = 7;
    public const USER = 8;
    /** JSON of what some events have besides: properties, and for goals of several steps the address. */
    public const EXTRA = 9;

    public const CELLS = 10;

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
