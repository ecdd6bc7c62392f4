<?php

namespace Database\Seeders;

use App\Models\User;
use Demo\Seed\DemoSite;
use Illuminate\Database\Seeder;
use Illuminate\Support\Facades\DB;

class DatabaseSeeder extends Seeder
{
    public function run(DemoSite $demo): void
    {
        // All of it or nothing: whoever stops the first start half-way gets the whole demo at the second.
        if (User::query()->doesntExist()) {
            DB::transaction($demo->make(...));
        }
    }
}
