<?php

namespace App\Http;

use PDOException;

/** Whether a request failed because what it needs is not there for a moment, and not by its own fault. */
final class Outage
{
    public const SECONDS = 3;

    public const WORDS = 'The database does not answer just now. Nothing was changed; try again in a moment.';

    /**
     * Of Redis every trouble is one. Error numbers of MariaDB and its client: no connection, gone, lost on the way; a node that is not ready; a lock that was
     * waited for too long, a deadlock, or a change that another node was faster with.
     */
    private const NUMBERS = [1040, 1047, 1053, 1205, 1213, 1927, 2002, 2003, 2006, 2013];

    public static function isOne(\Throwable $e): bool
    {
        return ! $e instanceof PDOException || in_array((int) ($e->errorInfo[1] ?? 0), self::NUMBERS, true);
    }
}
