<?php

declare(strict_types=1);

namespace Pellix\Core\Notices;

/** When something that could not be delivered is tried again. */
final class Retries
{
    /** Waits between one try and the next, in seconds: longer each time, a day in all (common practice, no source). */
    private const WAITS = [60, 300, 1_800, 7_200, 21_600, 57_600];

    /** @param int $failed how many tries have failed. @return int|null seconds until the next; null where it is given up */
    public static function after(int $failed): ?int
    {
        return self::WAITS[$failed - 1] ?? null;
    }

    /** How often something is tried before it is given up. */
    public static function most(): int
    {
        return count(self::WAITS) + 1;
    }
}
