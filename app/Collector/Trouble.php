<?php

declare(strict_types=1);

namespace App\Collector;

/** What a log may hold of an error of the collector: where it was, and the database's number for it; nothing that was sent. */
final class Trouble
{
    public static function note(string $door, \Throwable $e): void
    {
        $code = $e instanceof \PDOException ? implode(' ', array_slice($e->errorInfo ?? [$e->getCode()], 0, 2)) : (string) $e->getCode();
        error_log(sprintf('%s: %s %s at %s:%d', $door, $e::class, $code, basename($e->getFile()), $e->getLine()));
    }
}
