<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

use Pellix\Core\Events\CsvRows;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Formats\InvalidText;
use Pellix\Core\Formats\Lines;
use Pellix\Core\Formats\Spool;

/** What another source says: a table of visitors by day, or a list of orders. */
final class Other
{
    private const MOST_DAYS = 100_000;

    /** Columns beside ours that may tell where missing orders concentrate, and how long their values may be. */
    private const MOST_MORE = 12;
    private const LONGEST_MORE = 60;

    private const EXAMPLES = 20;

    /** Where more of the lines cannot be read, the file is no such table (common practice, no source). */
    private const NO_TABLE = 0.2;

    /** @var array<string, array<string, int>> day => variant ('' for none) => visitors */
    public array $days = [];

    /** Orders, one a line: see `OrderRow`. */
    public readonly Spool $orders;

    public int $rows = 0;

    public int $skipped = 0;

    /** @var list<array{line: int, reason: string}> the first lines that were left out */
    public array $examples = [];

    /**
     * @param 'orders'|'days' $kind
     * @param bool            $hasVariants whether it tells of each variant
     */
    private function __construct(public readonly string $kind, public readonly bool $hasVariants)
    {
        $this->orders = new Spool(1);
    }

    /**
     * @param resource     $stream   CSV
     * @param list<string> $variants keys of the experiment's variants
     *
     * @throws InvalidOther whose field begins with the number of the line
     */
    public static function of($stream, OtherColumns $columns, array $variants): self
    {
        $lines = Lines::of($stream);
        $other = null;
        $header = $places = $more = [];
        $separator = ',';
        try {
            foreach (CsvRows::of($columns->encoding === null ? $lines : LogReader::decoded($lines, $columns->encoding), true) as $number => $row) {
                if (is_string($row) && ! mb_check_encoding($row, 'UTF-8')) {
                    $row = new InvalidLog('This line is not UTF-8. Save the file as UTF-8, or name its encoding in a mapping.', (string) $number);
                }
                if ($other === null) {
                    [$separator, $header] = CsvRows::header(is_string($row) ? $row : throw $row, $number, $columns->separator);
                    [$other, $places] = self::begin($header, $columns, $number);
                    $more = array_slice(array_diff_key($header, array_flip($places)), 0, self::MOST_MORE, true);
                    continue;
                }
                $other->rows++;
                try {
                    $cells = is_string($row) ? array_map(trim(...), LogReader::cells($row, $separator)) : throw $row;
                    if (count($cells) !== count($header)) {
                        throw new InvalidOther('The row has '.count($cells).' cells, and the header '.count($header).'.');
                    }
                    $other->kind === 'days' ? $other->day($cells, $places, $columns, $variants) : $other->order($number, $cells, $places, $more, $columns, $variants);
                } catch (InvalidOther|InvalidLog $e) {
                    $other->leaveOut($number, $e instanceof InvalidOther && $e->field !== '' ? "{$e->field}: {$e->getMessage()}" : $e->getMessage());
                }
            }
        } catch (InvalidText|InvalidLog $e) {
            throw new InvalidOther($e->getMessage(), $e->field);
        }
        if ($other === null || $other->rows === $other->skipped || $other->skipped > self::NO_TABLE * $other->rows + 1) {
            $first = $other->examples[0] ?? ['line' => 1, 'reason' => 'The file has no rows: day,variant,visitors or order_id,time,value,currency are needed, and a row for each.'];
            throw new InvalidOther($first['reason'].($other !== null && $other->skipped > 1 ? " So it is on {$other->skipped} of {$other->rows} lines." : ''), (string) $first['line']);
        }

        return $other;
    }

    /**
     * @param list<string> $header
     *
     * @return array{self, array<string, int>} and the places of the columns that have our fields
     *
     * @throws InvalidOther
     */
    private static function begin(array $header, OtherColumns $columns, int $line): array
    {
        $names = array_map(static fn (string $name): string => mb_strtolower(trim($name)), $header);
        $places = [];
        foreach (array_unique([...OtherColumns::ORDERS, ...OtherColumns::DAYS]) as $field) {
            $column = $columns->column($field);
            $place = $column === null ? false : array_search(mb_strtolower(trim($column)), $names, true);
            if ($place !== false) {
                $places[$field] = (int) $place;
            } elseif ($field === 'visitors' && $columns->columns === [] && ($place = array_search('hits', $names, true)) !== false) {
                // Of a goal hits are counted.
                $places[$field] = (int) $place;
            } elseif ($columns->columns !== [] && $column !== null) {
                throw new InvalidOther("The header row has no column \"{$column}\", which the mapping names for {$field}. It has ".implode(', ', $header).'.', (string) $line);
            }
        }
        $isDays = isset($places['day'], $places['visitors']);
        $isOrders = isset($places['order_id']) || isset($places['time'], $places['value']);
        if (! $isDays && ! $isOrders) {
            throw new InvalidOther('The header row has neither day and visitors nor order_id, time and value. Name its columns in a mapping: {"columns":{"day":"…","visitors":"…"}}. It has '.implode(', ', $header).'.', (string) $line);
        }
        $wanted = $isDays ? OtherColumns::DAYS : OtherColumns::ORDERS;

        return [new self($isDays ? 'days' : 'orders', isset($places['variant'])), array_intersect_key($places, array_flip($wanted))];
    }

    /**
     * @param list<string>       $cells
     * @param array<string, int> $places
     * @param list<string>       $variants
     *
     * @throws InvalidOther
     */
    private function day(array $cells, array $places, OtherColumns $columns, array $variants): void
    {
        $day = $columns->day($cells[$places['day']]);
        $variant = isset($places['variant']) ? self::variant($cells[$places['variant']], $columns, $variants) : '';
        $visitors = $columns->count($cells[$places['visitors']]);
        if (! isset($this->days[$day]) && count($this->days) >= self::MOST_DAYS) {
            throw new InvalidOther('A table of days has at most '.number_format(self::MOST_DAYS).' days.', 'day');
        }
        $this->days[$day][$variant] = ($this->days[$day][$variant] ?? 0) + $visitors;
    }

    /**
     * @param list<string>       $cells
     * @param array<string, int> $places
     * @param array<int, string> $more   columns beside ours
     * @param list<string>       $variants
     *
     * @throws InvalidOther
     */
    private function order(int $line, array $cells, array $places, array $more, OtherColumns $columns, array $variants): void
    {
        $cell = static fn (string $field): string => isset($places[$field]) ? $cells[$places[$field]] : '';
        if ($cell('order_id') === '' && ($cell('time') === '' || $cell('value') === '')) {
            throw new InvalidOther('An order needs an order_id, or a time and a value.');
        }
        $parts = [];
        foreach ($more as $place => $name) {
            if ($cells[$place] !== '') {
                $parts[mb_substr($name, 0, self::LONGEST_MORE)] = mb_substr($cells[$place], 0, self::LONGEST_MORE);
            }
        }
        $row = new OrderRow(
            mb_substr($cell('order_id'), 0, OrderRow::LONGEST_ID),
            $cell('time') === '' ? null : $columns->time($cell('time')),
            $cell('value') === '' ? null : $columns->value($cell('value')),
            mb_strtoupper(mb_substr($cell('currency'), 0, 12)),
            $cell('variant') === '' ? '' : self::variant($cell('variant'), $columns, $variants),
            (string) $line,
            $parts,
        );
        $this->orders->add(0, $row->line('t'));
    }

    /**
     * @param list<string> $variants
     *
     * @throws InvalidOther
     */
    private static function variant(string $cell, OtherColumns $columns, array $variants): string
    {
        $key = $columns->variants[$cell] ?? $cell;
        if (! in_array($key, $variants, true)) {
            $like = array_values(array_filter($variants, static fn (string $one): bool => strcasecmp($one, $key) === 0));
            $key = $like[0] ?? throw new InvalidOther("The experiment has no variant \"{$cell}\"; it has ".implode(', ', $variants).'. Other names are told by a mapping: "variants":{"A":"'.($variants[0] ?? '').'"}.', 'variant');
        }

        return $key;
    }

    private function leaveOut(int $line, string $reason): void
    {
        $this->skipped++;
        if (count($this->examples) < self::EXAMPLES) {
            $this->examples[] = ['line' => $line, 'reason' => $reason];
        }
    }
}
