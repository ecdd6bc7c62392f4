<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Statistics\RatioOfMeans;

/** What one variant comes to by one item, in one epoch: sums over its units. */
final readonly class Sample
{
    /** Common practice, no source. */
    private const FEWEST_WITH_VALUE = 10;

    /**
     * @param int   $n       units
     * @param int   $reached of them, those that reached it
     * @param int   $hits    that count
     * @param int   $capped  units whose value is above the cap
     * @param float $y       sum of the measure; `yy`, `yyy` of its powers
     * @param float $x       sum of the sessions, of a ratio what is under the line; `xx` of its square, `xy` of both
     * @param float $e       sum of the measure before the first exposure; `ee` of its square, `ey` of both
     */
    private function __construct(
        public Measure $measure,
        public int $n,
        public int $reached,
        public int $hits,
        public float $y,
        public float $yy,
        public float $yyy = 0.0,
        public float $x = 0.0,
        public float $xx = 0.0,
        public float $xy = 0.0,
        public float $e = 0.0,
        public float $ee = 0.0,
        public float $ey = 0.0,
        public int $capped = 0,
    ) {
    }

    /**
     * @param array<int, int|float> $units of `Table`
     * @param array<int, int|float> $cell
     */
    public static function of(Measure $measure, array $units, array $cell): self
    {
        return new self($measure, (int) $units[0], (int) $cell[0], (int) $cell[1], (float) $cell[2], (float) $cell[3], (float) $cell[4], (float) $units[1], (float) $units[2], (float) $cell[5], (float) $cell[6], (float) $cell[7], (float) $cell[8], (int) $cell[9]);
    }

    public static function none(Measure $measure): self
    {
        return new self($measure, 0, 0, 0, 0.0, 0.0);
    }

    /** Of so many units of which so many reached it. */
    public static function ofCounts(int $n, int $reached): self
    {
        return new self(Measure::Rate, $n, $reached, $reached, (float) $reached, (float) $reached, (float) $reached);
    }

    /** Of so many units with that mean and standard deviation (over n - 1). */
    public static function ofMean(int $n, float $mean, float $sd): self
    {
        // Nobody says how many of them have anything: all, for whoever asks.
        return new self(Measure::Mean, $n, $n, 0, $n * $mean, ($n - 1) * $sd ** 2 + $n * $mean ** 2);
    }

    /** The same units by whether they reached it. */
    public function byRate(): self
    {
        return self::ofCounts($this->n, $this->reached);
    }

    public function plus(self $other): self
    {
        return new self(
            $this->measure,
            $this->n + $other->n,
            $this->reached + $other->reached,
            $this->hits + $other->hits,
            $this->y + $other->y,
            $this->yy + $other->yy,
            $this->yyy + $other->yyy,
            $this->x + $other->x,
            $this->xx + $other->xx,
            $this->xy + $other->xy,
            $this->e + $other->e,
            $this->ee + $other->ee,
            $this->ey + $other->ey,
            $this->capped + $other->capped,
        );
    }

    /** What is left of it without some of its units. */
    public function minus(self $part): self
    {
        return new self(
            $this->measure,
            $this->n - $part->n,
            $this->reached - $part->reached,
            $this->hits - $part->hits,
            $this->y - $part->y,
            $this->yy - $part->yy,
            $this->yyy - $part->yyy,
            $this->x - $part->x,
            $this->xx - $part->xx,
            $this->xy - $part->xy,
            $this->e - $part->e,
            $this->ee - $part->ee,
            $this->ey - $part->ey,
            $this->capped - $part->capped,
        );
    }

    /** Whether so few have anything that their spread says little of what is to come: an interval that holds at any look does not begin before. */
    public function isThin(): bool
    {
        return $this->measure === Measure::Mean && $this->reached < self::FEWEST_WITH_VALUE;
    }

    /** Whether it says anything. */
    public function isUsable(): bool
    {
        return $this->n >= ($this->measure === Measure::Rate ? 1 : 2) && ($this->measure !== Measure::Ratio || $this->x > 0);
    }

    /** Rate, mean or ratio; null where there is none. */
    public function value(): ?float
    {
        return match (true) {
            $this->n === 0 => null,
            $this->measure === Measure::Ratio => $this->x > 0 ? $this->y / $this->x : null,
            default => $this->y / $this->n,
        };
    }

    /** Variance of that value. */
    public function variance(): float
    {
        return $this->measure === Measure::Ratio
            ? RatioOfMeans::of($this->y / $this->n, $this->x / $this->n, $this->spread(), $this->centred($this->xx, $this->x, $this->x), $this->centred($this->xy, $this->x, $this->y), $this->n)['variance']
            : $this->spread() / $this->n;
    }

    /** Variance of a single unit's measure, over n - 1; of a rate p (1 - p). */
    public function spread(): float
    {
        return $this->measure === Measure::Rate ? $this->y / $this->n * (1 - $this->y / $this->n) : $this->centred($this->yy, $this->y, $this->y);
    }

    /** The same of what was before the first exposure, and of both together. */
    public function earlierSpread(): float
    {
        return $this->centred($this->ee, $this->e, $this->e);
    }

    public function covariance(): float
    {
        return $this->centred($this->ey, $this->e, $this->y);
    }

    /** Skewness of a single unit's measure: third central moment over the standard deviation cubed. */
    public function skewness(): float
    {
        $mean = $this->y / $this->n;
        $second = $this->yy / $this->n - $mean ** 2;

        return $second <= 1e-12 * max(1e-300, $this->yy / $this->n) ? 0.0 : ($this->yyy / $this->n - 3 * $mean * $this->yy / $this->n + 2 * $mean ** 3) / $second ** 1.5;
    }

    /** (Σ ab - Σa Σb / n) / (n - 1) */
    private function centred(float $ab, float $a, float $b): float
    {
        $value = ($ab - $a * $b / $this->n) / max(1, $this->n - 1);

        // Of numbers that are all the same, rounding leaves next to nothing.
        return abs($value) <= 1e-14 * abs($ab) / max(1, $this->n - 1) ? 0.0 : $value;
    }
}
