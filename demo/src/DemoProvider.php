<?php

declare(strict_types=1);

namespace Demo;

use App\Companion;
use Demo\Console\Simulate;
use Demo\Seed\DemoSeeder;

/** What the demo adds to the application: its site with 28 days of events, and the command that sends visitors. */
final class DemoProvider implements Companion
{
    public function commands(): array
    {
        return [Simulate::class];
    }

    public function seeder(): string
    {
        return DemoSeeder::class;
    }
}
