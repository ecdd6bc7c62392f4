<?php

namespace App\ReadModel;

use Illuminate\Support\Facades\DB;

/** A few addresses that stand for all pages of an experiment that were viewed: the first by the alphabet, so that they are the same however they came. */
final class Examples
{
    private const KEPT = 3;

    /** @param list<string> $addresses */
    public static function note(int $count, array $addresses): void
    {
        $kept = json_decode((string) DB::table('counts')->where('id', $count)->value('examples'), true) ?: [];
        $all = array_values(array_unique([...$kept, ...$addresses]));
        sort($all, SORT_STRING);
        $all = array_slice($all, 0, self::KEPT);
        if ($all !== $kept) {
            DB::table('counts')->where('id', $count)->update(['examples' => json_encode($all, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE)]);
        }
    }
}
