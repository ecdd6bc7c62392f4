<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/** Cells of tables that people open in spreadsheets, which take some texts for formulas and run them. */
final class Csv
{
    /** The same text, with an apostrophe before what would be a formula. Source: OWASP, CSV Injection. */
    public static function harmless(string $cell): string
    {
        return preg_match('/\A[=+\-@\t\r\n]/', $cell) === 1 && ! is_numeric($cell) ? "'{$cell}" : $cell;
    }

    /** What was written, where `harmless()` has put an apostrophe before it. */
    public static function plain(string $cell): string
    {
        return preg_match('/\A\'[=+\-@\t\r\n]/', $cell) === 1 ? substr($cell, 1) : $cell;
    }
}
