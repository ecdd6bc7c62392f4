<?php

declare(strict_types=1);

namespace App\AuditReport;

use Pellix\Core\Chain\Words;

/** Pieces of a page: everything that comes from a log is escaped here. */
final class Html
{
    public static function escaped(string $text): string
    {
        return htmlspecialchars($text, ENT_QUOTES | ENT_SUBSTITUTE | ENT_HTML5);
    }

    /**
     * @param list<string>                           $header
     * @param list<list<string|int|float|null>> $rows   numbers stand right
     */
    public static function table(array $header, array $rows, string $caption = ''): string
    {
        if ($rows === []) {
            return '<p class="soft">None.</p>';
        }
        $head = implode('', array_map(static fn (string $cell): string => '<th scope="col">'.self::escaped($cell).'</th>', $header));
        $body = implode('', array_map(static fn (array $row): string => '<tr>'.implode('', array_map(static fn (string|int|float|null $cell): string => (is_string($cell) ? '<td>' : '<td class="n">').self::escaped(is_int($cell) ? self::count($cell) : (string) $cell).'</td>', $row)).'</tr>', $rows));

        return '<div class="wide" tabindex="0" role="region" aria-label="'.self::escaped($caption === '' ? implode(', ', $header) : $caption).'"><table>'.($caption === '' ? '' : '<caption>'.self::escaped($caption).'</caption>')."<thead><tr>{$head}</tr></thead><tbody>{$body}</tbody></table></div>";
    }

    public static function count(int $n): string
    {
        return Words::number($n);
    }

    public static function percent(?float $part, int $decimals = 1): string
    {
        return $part === null ? '–' : number_format(100 * $part, $decimals, '.', '')."\u{202f}%";
    }

    public static function p(float $p): string
    {
        return Words::p($p > 0 ? log($p) : -INF);
    }
}
