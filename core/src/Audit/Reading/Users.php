<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Audit\Setup;
use Pellix\Core\Formats\Spool;

/** Users who came with several visitor ids. */
final readonly class Users
{
    private const PARTS = 32;

    /**
     * @param int $exposed   users who were exposed
     * @param int $several   of them, with more than one visitor id
     * @param int $split     of those, in several variants
     * @param int $forgotten with a new visitor id after the assignment's lifetime
     */
    private function __construct(public int $exposed, public int $several, public int $split, public int $forgotten)
    {
    }

    /** @param array{Spool, Spool} $halves */
    public static function of(array $halves, Setup $setup): self
    {
        $parts = new Spool(self::PARTS);
        foreach ($halves as $half) {
            $file = $half->part(0);
            while (($line = fgets($file)) !== false) {
                $parts->add(crc32(substr($line, 0, (int) strpos($line, "\t"))), $line);
            }
        }
        $lifetime = $setup->experiment->lifetimeDays === null ? null : 86_400_000 * $setup->experiment->lifetimeDays;
        $exposed = $several = $split = $forgotten = 0;
        for ($part = 0; $part < self::PARTS; $part++) {
            $users = [];
            $file = $parts->part($part);
            while (($line = fgets($file)) !== false) {
                [$user, $visitor, $variant, $first] = explode("\t", $line);
                $users["#{$user}"][] = [(int) $first, $visitor, (int) $variant];
            }
            foreach ($users as $visitors) {
                $exposed++;
                if (count($visitors) === 1) {
                    continue;
                }
                $several++;
                $split += count(array_unique(array_column($visitors, 2))) > 1 ? 1 : 0;
                sort($visitors);
                $forgotten += $lifetime !== null && $visitors[count($visitors) - 1][0] - $visitors[0][0] >= $lifetime ? 1 : 0;
            }
        }

        return new self($exposed, $several, $split, $forgotten);
    }
}
