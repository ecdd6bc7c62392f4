<?php

namespace App\ReadModel;

use Illuminate\Support\Facades\DB;

/** One at a time may change the figures of a site: a row of the database is the lock, wherever the workers run. */
final class ModelLock
{
    /** Within a transaction; held until it ends. The first thing in it: whoever reads before may read what is old. */
    public static function take(int $site): object
    {
        $row = DB::selectOne('select * from model_states where site_id = ? for update', [$site]);
        if ($row === null) {
            DB::table('model_states')->insertOrIgnore(['site_id' => $site]);
            $row = DB::selectOne('select * from model_states where site_id = ? for update', [$site]);
        }

        return $row;
    }
}
