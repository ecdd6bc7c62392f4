<?php

declare(strict_types=1);

/* Looks twice a second how old the oldest arrival is that was not taken in yet, and prints the largest age: php bench/lag.php SECONDS */

use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;

require dirname(__DIR__).'/vendor/autoload.php';
(require dirname(__DIR__).'/bootstrap/app.php')->make(Kernel::class)->bootstrap();

$most = 0.0;
for ($i = 0; $i < 2 * (int) $argv[1]; $i++) {
    $oldest = DB::table('arrivals')->min('received');
    $most = $oldest === null ? $most : max($most, microtime(true) - (float) (new DateTimeImmutable($oldest, new DateTimeZone('UTC')))->format('U.u'));
    usleep(500_000);
}
printf("%.2f\n", $most);
