<?php

namespace App\ReadModel;

use Illuminate\Support\Facades\DB;

/** The queue from which workers learn what is new, as far as those who empty and fill it by hand need it. */
final class Arrivals
{
    private const AT_ONCE = 1000;

    /**
     * Takes arrivals out of the queue, each looked up by its key: a statement that walks along the keys would wait for whoever
     * is still writing an arrival between them.
     *
     * @param list<int> $ids
     */
    public static function remove(array $ids): void
    {
        foreach (array_chunk($ids, self::AT_ONCE) as $part) {
            DB::delete(
                "delete arrivals from json_table(?, '$[*]' columns (id bigint unsigned path '$')) wanted
                    straight_join arrivals force index (primary) on arrivals.id = wanted.id",
                [json_encode(array_map(intval(...), $part))],
            );
        }
    }

    /**
     * Has visitors counted again of whom there is nothing new.
     *
     * @param list<string> $visitors
     */
    public static function again(int $site, array $visitors, string $received): void
    {
        Upserts::write('arrivals', array_map(static fn (string $visitor): array => [
            'site_id' => $site, 'visitor' => $visitor, 'kind' => 'again', 'received' => $received, 'content' => '[]',
        ], $visitors));
    }
}
