<?php

declare(strict_types=1);

namespace App\Storage;

use Illuminate\Database\Connection;
use Illuminate\Database\Connectors\ConnectionFactory;
use PDO;
use PDOStatement;

/** Rows that come one by one, however many there are, over a connection of their own: this may be a process that was forked. */
final readonly class Streamed
{
    private Connection $connection;

    public function __construct()
    {
        $this->connection = app(ConnectionFactory::class)->make([...(array) config('database.connections.mariadb'), 'options' => [PDO::MYSQL_ATTR_USE_BUFFERED_QUERY => false, PDO::ATTR_EMULATE_PREPARES => true, PDO::ATTR_STRINGIFY_FETCHES => true]], 'streamed');
    }

    /**
     * One at a time: the rows before are read to their end, or let go of, first.
     *
     * @param list<mixed> $values
     */
    public function rows(string $sql, array $values): PDOStatement
    {
        $statement = $this->connection->getPdo()->prepare($sql);
        $statement->execute($values);

        return $statement;
    }
}
