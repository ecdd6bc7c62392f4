<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Lines;

/** A small table with a header row, as CSV: read whole, so that its size has a bound. */
final readonly class TableRows
{
    public const MOST_ROWS = 100_000;

    /**
     * @param list<string>             $header names of the columns, as they stand there
     * @param array<int, list<string>> $rows   number of the line => cells, as many as columns
     * @param int                      $line   of the header
     */
    private function __construct(public array $header, public array $rows, public int $line)
    {
    }

    /**
     * @param resource $stream
     *
     * @throws InvalidLog whose field is the number of the line
     */
    public static function of($stream): self
    {
        $rows = [];
        $header = null;
        $at = 1;
        $separator = ',';
        foreach (CsvRows::of(Lines::of($stream), false) as $line => $text) {
            if ($text instanceof InvalidLog || ! mb_check_encoding($text, 'UTF-8')) {
                throw new InvalidLog('This line is not UTF-8. Save the file as UTF-8.', (string) $line);
            }
            if ($header === null) {
                [$separator, $header] = CsvRows::header($text, $line);
                $at = $line;
                continue;
            }
            $cells = LogReader::cells($text, $separator);
            if (count($cells) !== count($header)) {
                throw new InvalidLog('The row has '.count($cells).' cells, and the header '.count($header).'.', (string) $line);
            }
            $rows[$line] = $cells;
            if (count($rows) > self::MOST_ROWS) {
                throw new InvalidLog('A table of counts has at most '.number_format(self::MOST_ROWS).' rows; a log is read without --counts.', (string) $line);
            }
        }

        return new self($header ?? [], $rows, $at);
    }

    /**
     * Places of columns by their names, whatever their case.
     *
     * @param array<string, list<string>> $called what it is => names that it may have
     *
     * @return array<string, int|null>
     */
    public function columns(array $called): array
    {
        $names = array_map(static fn (string $name): string => strtolower(trim($name)), $this->header);

        return array_map(static function (array $wanted) use ($names): ?int {
            foreach ($wanted as $name) {
                $place = array_search($name, $names, true);
                if ($place !== false) {
                    return $place;
                }
            }

            return null;
        }, $called);
    }

    /**
     * The cells of the other columns, but for empty ones.
     *
     * @param list<string>            $cells
     * @param array<string, int|null> $columns
     *
     * @return array<string, string> name of the column => cell
     */
    public function others(array $cells, array $columns): array
    {
        $others = [];
        foreach ($this->header as $place => $name) {
            if (! in_array($place, $columns, true) && trim($cells[$place]) !== '') {
                $others[mb_substr($name, 0, 40)] = mb_substr(trim($cells[$place]), 0, 60);
            }
        }

        return $others;
    }
}
