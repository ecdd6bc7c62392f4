<?php

namespace Database\Factories;

use App\Models\Site;
use Illuminate\Database\Eloquent\Factories\Factory;
use Illuminate\Support\Str;

/** @extends Factory<Site> */
class SiteFactory extends Factory
{
    protected $model = Site::class;

    /** @return array<string, mixed> */
    public function definition(): array
    {
        return [
            'key' => 'plx_'.Str::lower(Str::random(16)), 'name' => 'Shop', 'hosts' => ['shop.test'], 'time_zone' => 'UTC', 'currency' => 'EUR', 'cookie_days' => 15,
            'srm_alpha' => 0.001, 'fresh_seconds' => 86400,
        ];
    }
}
