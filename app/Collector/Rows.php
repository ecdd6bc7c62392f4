<?php

namespace App\Collector;

/** Insertions of several rows, written out: this is the hot path, where a query builder would cost as much as the query. */
final class Rows
{
    /**
     * @param non-empty-list<array<string, mixed>> $rows all with the same columns
     *
     * @return array{string, list<mixed>} SQL and values
     */
    public static function insertion(string $table, array $rows): array
    {
        $columns = '`'.implode('`, `', array_keys($rows[0])).'`';
        $places = '('.rtrim(str_repeat('?,', count($rows[0])), ',').')';

        return [
            "insert into {$table} ({$columns}) values ".rtrim(str_repeat("{$places},", count($rows)), ','),
            array_merge(...array_map(array_values(...), $rows)),
        ];
    }
}
