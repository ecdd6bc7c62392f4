<?php

namespace Demo\Seed;

use App\Models\User;
use App\Storage\EventMonths;
use Carbon\CarbonImmutable;
use Illuminate\Database\Seeder;
use Illuminate\Support\Facades\DB;

/** Fills an empty database with the demo. */
class DemoSeeder extends Seeder
{
    public function run(DemoSite $demo, EventMonths $months): void
    {
        $now = CarbonImmutable::now('UTC');
        // Apart from the data: a change of tables ends a transaction.
        $months->prepare($now->subDays(DemoSite::DAYS), $now);
        // All of it or nothing: whoever stops the first start half-way gets the whole demo at the second.
        if (User::query()->doesntExist()) {
            DB::transaction($demo->make(...));
        }
    }
}
