<?php

declare(strict_types=1);

namespace App\Collector;

use PDO;

/** The database, without the framework around it: whoever sends a beacon waits for it. */
final class Connection
{
    private const SECONDS = 1;

    /** @param array<string, mixed> $config as `artisan config:cache` wrote it */
    public static function open(array $config): PDO
    {
        ['unix_socket' => $socket, 'host' => $host, 'port' => $port, 'database' => $name, 'username' => $user, 'password' => $password] = $config['database']['connections']['mariadb'];

        return new PDO(($socket === '' ? "mysql:host={$host};port={$port}" : "mysql:unix_socket={$socket}").";dbname={$name};charset=utf8mb4", $user, $password, [
            PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION,
            // Kept open from one beacon to the next; PHP asks whether it is still alive, and rolls back what a beacon left open.
            PDO::ATTR_PERSISTENT => true,
            // Whoever sends a beacon waits no longer than this for the database to answer.
            PDO::ATTR_TIMEOUT => self::SECONDS,
            // Statements are written out by PHP, which saves the database a round for each.
            PDO::ATTR_EMULATE_PREPARES => true,
            // A value that does not fit is an error, and times are UTC, as everywhere.
            PDO::MYSQL_ATTR_INIT_COMMAND => "set sql_mode = 'STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE', time_zone = '+00:00', innodb_lock_wait_timeout = ".self::SECONDS.', max_statement_time = '.self::SECONDS,
        ]);
    }
}
