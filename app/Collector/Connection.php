<?php

declare(strict_types=1);

namespace App\Collector;

use PDO;

/** The database, without the framework around it: whoever sends a beacon waits for it. */
final class Connection
{
    /** @param string $data the data folder, with the configuration that `artisan config:cache` wrote */
    public static function open(string $data): PDO
    {
        $config = require "{$data}/cache/config.php";
        ['unix_socket' => $socket, 'host' => $host, 'port' => $port, 'database' => $name, 'username' => $user, 'password' => $password] = $config['database']['connections']['mariadb'];

        return new PDO(($socket === '' ? "mysql:host={$host};port={$port}" : "mysql:unix_socket={$socket}").";dbname={$name};charset=utf8mb4", $user, $password, [
            PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION,
            // Kept open from one beacon to the next; PHP asks whether it is still alive, and rolls back what a beacon left open.
            PDO::ATTR_PERSISTENT => true,
            // Statements are written out by PHP, which saves the database a round for each.
            PDO::ATTR_EMULATE_PREPARES => true,
            // A value that does not fit is an error, and times are UTC, as everywhere.
            PDO::MYSQL_ATTR_INIT_COMMAND => "set sql_mode = 'STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE', time_zone = '+00:00'",
        ]);
    }
}
