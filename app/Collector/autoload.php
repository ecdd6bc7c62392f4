<?php

declare(strict_types=1);

/*
 * Finds classes as Composer does, without the files that packages want read at every start: of some forty of them the
 * collector needs none, and whoever sends a beacon would wait for each.
 */

use Composer\Autoload\ClassLoader;

$composer = dirname(__DIR__, 2).'/vendor/composer';
require_once "{$composer}/ClassLoader.php";
$loader = new ClassLoader();
foreach (require "{$composer}/autoload_psr4.php" as $prefix => $folders) {
    $loader->setPsr4($prefix, $folders);
}
$loader->register();
