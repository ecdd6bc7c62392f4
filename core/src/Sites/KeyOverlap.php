<?php

declare(strict_types=1);

namespace Pellix\Core\Sites;

/** For how long, and how many at once, keys that a site had before go on to count beside the present one. */
final class KeyOverlap
{
    /** As long as visitor cookies may last; nobody needs more to change a snippet. */
    public const MOST_DAYS = 400;

    /** Each has a file of its own, written with each publication. */
    public const MOST = 5;

    public static function hasRoom(int $counting): bool
    {
        return $counting < self::MOST;
    }
}
