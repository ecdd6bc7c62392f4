<?php

declare(strict_types=1);

namespace App\Collector;

use Illuminate\Container\Container;
use Illuminate\Database\ConnectionInterface;
use Illuminate\Database\Connectors\ConnectionFactory;

/** The database, without the framework around it. */
final class Connection
{
    /** @param string $data the data folder, with the configuration that `artisan config:cache` wrote */
    public static function open(string $data): ConnectionInterface
    {
        $config = require "{$data}/cache/config.php";

        // Kept open from one beacon to the next; PHP asks whether it is still alive, and rolls back what a beacon left open.
        $settings = [...$config['database']['connections']['mariadb'], 'options' => [\PDO::ATTR_PERSISTENT => true]];

        return (new ConnectionFactory(new Container()))->make($settings, 'mariadb');
    }
}
