<?php

namespace App\ReadModel;

use Illuminate\Support\Facades\DB;
use Pellix\Core\Readout\Item;
use Pellix\Core\Readout\Table;

/** The sums of readouts: kept as the table of the core, cell by cell, and moved by what units add and take off. */
final class ReadoutSums
{
    /** Visitors and pages tell of as many segments as they like: of an experiment the first so many are told apart. */
    private const MOST_SEGMENTS = 400;

    /** Numbers of a cell of an item, and of units. */
    private const COLUMNS = 10;
    private const UNITS = 3;

    /** Adds what a table holds. */
    public static function add(int $count, Table $table): void
    {
        $known = self::segments($count, $table->segments());
        $rows = [];
        foreach (['' => $table->units, ...$table->cells] as $item => $variants) {
            foreach ($variants as $variant => $epochs) {
                foreach ($epochs as $epoch => $kinds) {
                    foreach ($kinds as $kind => $parts) {
                        foreach ($parts as $part => $cell) {
                            if (($kind !== Table::SEGMENT || isset($known["#{$part}"])) && array_filter($cell) !== []) {
                                $rows[] = ['count_id' => $count, 'item' => (string) $item, 'variant' => $variant, 'epoch' => $epoch, 'kind' => $kind, 'part' => (string) $part, ...self::columns($cell)];
                            }
                        }
                    }
                }
            }
        }
        usort($rows, static fn (array $a, array $b): int => [$a['item'], $a['variant'], $a['epoch'], $a['kind'], $a['part']] <=> [$b['item'], $b['variant'], $b['epoch'], $b['kind'], $b['part']]);
        Upserts::write('readout_sums', $rows, array_fill_keys(array_map(static fn (int $i): string => "n{$i}", range(0, self::COLUMNS - 1)), '+'));
    }

    /**
     * @param list<int|float> $cell
     *
     * @return array<string, int|float>
     */
    private static function columns(array $cell): array
    {
        $columns = [];
        for ($i = 0; $i < self::COLUMNS; $i++) {
            $columns["n{$i}"] = $cell[$i] ?? 0;
        }

        return $columns;
    }

    /**
     * Which of some segments are told apart. Once there are many no other is, so that what was added can be taken off.
     *
     * @param list<string> $wanted
     *
     * @return array<string, true> segments, with a mark before each
     */
    private static function segments(int $count, array $wanted): array
    {
        $known = [];
        foreach (DB::table('readout_segments')->where('count_id', $count)->pluck('segment') as $one) {
            $known["#{$one}"] = true;
        }
        $new = array_slice(array_values(array_filter($wanted, static fn (string $one): bool => ! isset($known["#{$one}"]))), 0, max(0, self::MOST_SEGMENTS - count($known)));
        Upserts::write('readout_segments', array_map(static fn (string $one): array => ['count_id' => $count, 'segment' => $one], $new), ['segment' => 'set']);

        foreach ($new as $one) {
            $known["#{$one}"] = true;
        }

        return $known;
    }

    /**
     * @param list<Item>            $items
     * @param array<string, string> $names what an item is called in the sums => its key in the table; others are left out
     */
    public static function read(int $count, array $items, array $names): Table
    {
        $table = new Table($items);
        foreach (DB::table('readout_sums')->where('count_id', $count)->whereIn('item', ['', ...array_map(strval(...), array_keys($names))])->cursor() as $row) {
            $cell = [];
            for ($i = 0; $i < ($row->item === '' ? self::UNITS : self::COLUMNS); $i++) {
                $cell[] = (float) $row->{"n{$i}"};
            }
            // What was taken off again leaves nothing, or what rounding left.
            if ($row->item === '') {
                if ($cell[0] > 0.5) {
                    $table->units[(int) $row->variant][(int) $row->epoch][$row->kind][$row->part] = $cell;
                }
            } elseif (abs($cell[0]) > 0.5 || abs($cell[1]) > 0.5 || abs($cell[6]) > 1e-6 || abs($cell[2]) > 1e-6) {
                $table->cells[$names[$row->item]][(int) $row->variant][(int) $row->epoch][$row->kind][$row->part] = $cell;
            }
        }

        return $table;
    }
}
