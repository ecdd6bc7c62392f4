<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

use Pellix\Core\Statistics\Normal;
use Pellix\Core\Statistics\Wilson;

/**
 * By how much one count is off another of the same visitors. The smaller is a part of the larger, as where each visitor is lost by
 * itself: Wilson's interval of that part. Where days vary by more than that tells (both sides lose visitors), the interval of a
 * normal variable with the variance that was seen.
 */
final readonly class Difference
{
    public const LEVEL = 0.95;

    /**
     * @param float|null $part ours / theirs − 1; null where theirs is nothing
     */
    private function __construct(public ?float $part, public ?float $low, public ?float $high)
    {
    }

    /**
     * @param float|null $variance of the difference, for each visitor, where it was measured; null for what chance makes of losses
     * @param float      $level    confidence of the interval
     */
    public static function of(int $ours, int $theirs, ?float $variance = null, float $level = self::LEVEL): self
    {
        if ($theirs === 0) {
            return new self(null, null, null);
        }
        $z = Normal::above((1 - $level) / 2);
        if ($variance !== null) {
            $half = $z * sqrt($variance * max($ours, $theirs)) / $theirs;
            [$low, $high] = [max(0.0, $ours / $theirs - $half), $ours / $theirs + $half];
        } elseif ($ours <= $theirs) {
            [$low, $high] = Wilson::interval($ours, $theirs, $z);
        } else {
            [$least, $most] = Wilson::interval($theirs, $ours, $z);
            [$low, $high] = [1 / $most, 1 / $least];
        }

        return new self($ours / $theirs - 1, $low - 1, $high - 1);
    }

    public function isWithin(float $tolerance): bool
    {
        return $this->part !== null && abs($this->part) <= $tolerance + 1e-12;
    }

    /** Whether no value of the interval is within the tolerance. */
    public function isClearlyOut(float $tolerance): bool
    {
        return $this->part === null || ($this->low ?? 0.0) > $tolerance || ($this->high ?? 0.0) < -$tolerance;
    }
}
