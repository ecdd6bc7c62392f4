<?php

declare(strict_types=1);

/* Event logs of invented visitors, without a server. Called by `bin/pellix simulate --to=FILE`. */

require dirname(__DIR__).'/vendor/autoload.php';

exit(Demo\Logs\Command::run(array_slice($argv, 1), STDOUT, STDERR));
