<?php

namespace App\Console\Commands;

use Illuminate\Console\Command;
use Illuminate\Support\Facades\DB;

/** Beacons for sites that nobody has: a snippet of another installation, a key that was mistyped, or somebody who tries. */
class Strangers extends Command
{
    private const DAYS = 30;

    protected $signature = 'pellix:strangers';

    protected $description = 'List the beacons of the last 30 days that were for no known site';

    public function handle(): int
    {
        $rows = DB::table('strangers')->where('day', '>=', now('UTC')->subDays(self::DAYS)->toDateString())->orderByDesc('day')->orderByDesc('beacons')->limit(500)->get();
        if ($rows->isEmpty()) {
            $this->line('No beacon of the last 30 days was for a site that nobody has.');

            return self::SUCCESS;
        }
        $this->table(['day', 'site key', 'beacons', 'last (UTC)'], $rows->map(static fn (object $row): array => [$row->day, $row->key === '' ? '(other keys)' : $row->key, number_format($row->beacons), $row->last])->all());

        return self::SUCCESS;
    }
}
