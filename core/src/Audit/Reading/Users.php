<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Audit\Setup;
use Pellix\Core\Formats\Spool;

/** Users who came with several visitor ids. */
final readonly class Users
{
    /**
     * @param int $exposed   users who were exposed
     * @param int $several   of them, with more than one visitor id
     * @param int $split     of those, in several variants
     * @param int $forgotten with a new visitor id after the assignment's lifetime
     */
    private function __construct(public int $exposed, public int $several, public int $split, public int $forgotten)
    {
    }

    /** @param list<Spool> $halves */
    public static function of(array $halves, Setup $setup): self
    {
        $lifetime = $setup->experiment->lifetimeDays === null ? null : 86_400_000 * $setup->experiment->lifetimeDays;
        $exposed = $several = $split = $forgotten = 0;
        foreach (Gathered::of($halves) as [, $visitors]) {
            $exposed++;
            if (count($visitors) === 1) {
                continue;
            }
            $several++;
            $split += count(array_unique(array_column($visitors, 0))) > 1 ? 1 : 0;
            $first = array_map(intval(...), array_column($visitors, 1));
            $forgotten += $lifetime !== null && max([0, ...$first]) - min([PHP_INT_MAX, ...$first]) >= $lifetime ? 1 : 0;
        }

        return new self($exposed, $several, $split, $forgotten);
    }
}
