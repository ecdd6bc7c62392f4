<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Lines;

/** Rows of CSV (RFC 4180), which have several lines where a cell in quotes has. */
final class CsvRows
{
    /** Where a log goes on after a wrong row, a cell has at most so many lines: else one quote would take the rest with it. */
    private const MOST_LINES = 50;

    /**
     * @param \Generator<int, string> $lines
     *
     * @return \Generator<int, string|InvalidLog> number of the first line => the row, or why it is none
     */
    public static function of(\Generator $lines, bool $goesOn): \Generator
    {
        /** @var array<int, string> $back lines that were read, and belong to no row */
        $back = [];
        while ($back !== [] || $lines->valid()) {
            [$number, $row] = self::next($lines, $back);
            if (trim($row) === '') {
                continue;
            }
            $taken = [];
            while (substr_count($row, '"') % 2 === 1) {
                if (($back === [] && ! $lines->valid()) || strlen($row) > Lines::LONGEST || ($goesOn && count($taken) >= self::MOST_LINES)) {
                    $row = null;
                    break;
                }
                [$at, $line] = self::next($lines, $back);
                $taken[$at] = $line;
                $row .= "\n".$line;
            }
            if ($row === null) {
                $back = $taken + $back;
            }
            yield $number => $row ?? new InvalidLog('A quote opens in this row and is never closed.', (string) $number);
        }
    }

    /**
     * @param \Generator<int, string> $lines
     * @param array<int, string>      $back
     *
     * @return array{int, string}
     */
    private static function next(\Generator $lines, array &$back): array
    {
        if ($back !== []) {
            $number = (int) array_key_first($back);
            $line = $back[$number];
            unset($back[$number]);

            return [$number, $line];
        }
        $next = [(int) $lines->key(), (string) $lines->current()];
        $lines->next();

        return $next;
    }

    /**
     * The names of the columns, whatever they are.
     *
     * @param string|null $separator null for the one that parts most
     *
     * @return array{string, list<string>} what parts the cells, and the names
     *
     * @throws InvalidLog
     */
    public static function header(string $row, int $number, ?string $separator = null): array
    {
        if ($separator === null) {
            $parts = array_map(static fn (string $one): int => count(LogReader::cells($row, $one)), LogReader::SEPARATORS);
            $separator = LogReader::SEPARATORS[(int) array_search(max($parts), $parts, true)];
        }
        $names = array_map(trim(...), LogReader::cells($row, $separator));
        $twice = array_keys(array_filter(array_count_values($names), static fn (int $times): bool => $times > 1));

        return $twice === [] ? [$separator, $names] : throw new InvalidLog("The header row has the column \"{$twice[0]}\" more than once.", (string) $number);
    }
}
