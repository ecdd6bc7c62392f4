<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Incremental;

use Pellix\Core\Audit\Reading\Skipped;
use Pellix\Core\Audit\Sums\Counts;
use Pellix\Core\Audit\Sums\Tally;

/** What was counted of some visitors. */
final class Totals
{
    /** What it is made of, for whoever reads one that was kept. */
    public const CLASSES = [self::class, Skipped::class, ...Tally::CLASSES];

    /**
     * @param int    $lines       that were read
     * @param int    $events      of them, up to the moment of the audit; and those after it
     * @param int    $copies      events whose id the same visitor had sent before
     * @param int    $units       visitors of whom something is left
     * @param string $fingerprint of the events, whatever their order: eight bytes
     */
    public function __construct(
        public readonly Tally $tally,
        public readonly Skipped $skipped,
        public int $lines,
        public int $events,
        public int $later,
        public int $copies,
        public int $units,
        public string $fingerprint,
    ) {
    }

    /** @param int $sign see `Counts`; lines that could not be read are never taken away */
    public function plus(self $other, int $sign = Counts::PLUS): void
    {
        $this->tally->plus($other->tally, $sign);
        $sign === Counts::MINUS || $this->skipped->plus($other->skipped);
        foreach (['lines', 'events', 'later', 'copies', 'units'] as $number) {
            $this->{$number} += $sign * $other->{$number};
        }
        $this->fingerprint ^= $other->fingerprint;
    }
}
