<?php

declare(strict_types=1);

namespace App\Audits;

use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Reading\Orders;
use Pellix\Core\Audit\Reading\Skipped;
use Pellix\Core\Audit\Reading\Users;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\Tally;

/** What an audit counted, as it is kept to look at parts of it later: it grows with hours and segments, never with visitors. */
final class KeptEvidence
{
    /** More than that (packed) is not kept: then its parts cannot be tested again. */
    private const MOST_BYTES = 12_000_000;

    private const CLASSES = [...Tally::CLASSES, Skipped::class, Users::class, Orders::class];

    /** @return string|null null where it is too much */
    public static function pack(Evidence $evidence): ?string
    {
        $packed = (string) gzencode(serialize([
            $evidence->tally, $evidence->lines, $evidence->read, $evidence->later, $evidence->skipped, $evidence->copies, $evidence->shared, $evidence->visitors, $evidence->users, $evidence->orders,
            $evidence->isTable, $evidence->hasTimes, $evidence->fingerprint,
        ]), 3);

        return strlen($packed) > self::MOST_BYTES ? null : $packed;
    }

    /** @return Evidence|null null where it was kept by another engine */
    public static function unpack(string $packed, Setup $setup): ?Evidence
    {
        try {
            /** @var list<mixed> $parts */
            $parts = unserialize((string) gzdecode($packed), ['allowed_classes' => self::CLASSES]);

            return new Evidence($setup, ...$parts);
        } catch (\Throwable) {
            return null;
        }
    }
}
