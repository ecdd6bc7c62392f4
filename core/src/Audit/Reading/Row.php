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
    public const NAME = 4;
    /** Host and path. */
    public const PAGE = 5;
    /** Device, browser, source and country, parted by `PART`. */
    public const CONTEXT = 6;
    public const FLAGS = 7;
    /** Bit by bit, the goals that it may be a hit of. */
    public const GOALS = 8;
    /** Host that the visitor came from, where it is another one. */
    public const REFERRER = 9;
    public const USER = 10;
    /** Visitor, where the unit is a user. */
    public const VISITOR = 11;
    /** JSON of what some events have besides: properties, and for goals of several steps the address. */
    public const EXTRA = 12;

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
        return strpbrk($text, "\t\n\\") === false ? $text : strtr($text, ["\\" => '\\\\', "\t" => '\\t', "\n" => '\\n']);
    }

    public static function text(string $cell): string
    {
        return str_contains($cell, '\\') ? strtr($cell, ['\\\\' => '\\', '\\t' => "\t", '\\n' => "\n"]) : $cell;
    }
}
