<?php

namespace App\ReadModel;

use Illuminate\Support\Facades\DB;

/** Writes many rows at once, in statements of a bounded size, and in the order of their keys. */
final class Upserts
{
    private const AT_ONCE = 500;

    /**
     * @param list<array<string, mixed>> $rows
     * @param array<string, string>      $merge column => how it joins what is there (`+`, `max`, `min`, `set`); others stay as they are
     */
    public static function write(string $table, array $rows, array $merge = []): void
    {
        $how = [];
        foreach ($merge as $column => $kind) {
            $how[] = match ($kind) {
                '+' => "`{$column}` = `{$table}`.`{$column}` + values(`{$column}`)",
                // greatest() of a null is null.
                'max' => "`{$column}` = coalesce(greatest(`{$table}`.`{$column}`, values(`{$column}`)), values(`{$column}`), `{$table}`.`{$column}`)",
                'min' => "`{$column}` = least(`{$table}`.`{$column}`, values(`{$column}`))",
                default => "`{$column}` = values(`{$column}`)",
            };
        }
        foreach (array_chunk($rows, self::AT_ONCE) as $part) {
            $columns = '`'.implode('`, `', array_keys($part[0])).'`';
            $places = '('.rtrim(str_repeat('?,', count($part[0])), ',').')';
            DB::statement(
                "insert into `{$table}` ({$columns}) values ".rtrim(str_repeat("{$places},", count($part)), ',').($how === [] ? '' : ' on duplicate key update '.implode(', ', $how)),
                array_merge(...array_map(array_values(...), $part)),
            );
        }
    }
}
