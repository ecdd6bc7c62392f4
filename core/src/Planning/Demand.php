<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

use Pellix\Core\Statistics\Normal;

/** What a test is asked for: how rarely it may be wrong, either way. */
final readonly class Demand
{
    /** Common practice, no source. */
    public const ALPHA = 0.05;
    public const POWER = 0.8;

    private const MOST_COMPARISONS = 30;

    /**
     * @param float $alpha       chance that any of the comparisons calls a difference where there is none
     * @param float $power       chance that one of them finds the difference that is there
     * @param int   $sides       2 for a difference either way, 1 for one way alone
     * @param int   $comparisons with the control
     * @param bool  $isCorrected whether each is planned at the Bonferroni level, alpha over the number of comparisons: Holm's procedure (1979)
     *                           tests the smallest p-value at that level, so it has at least the power that is planned for here
     */
    private function __construct(public float $alpha, public float $power, public int $sides, public int $comparisons, public bool $isCorrected)
    {
    }

    /** @throws InvalidAssumption */
    public static function of(float $alpha = self::ALPHA, float $power = self::POWER, int $sides = 2, int $comparisons = 1, bool $isCorrected = true): self
    {
        if (! ($alpha >= 1e-9 && $alpha <= 0.5)) {
            throw new InvalidAssumption('The significance level is at least 1e-9 and at most 0.5.', 'alpha');
        }
        if (! ($power > $alpha && $power <= 0.999999)) {
            throw new InvalidAssumption("The power lies above the significance level ({$alpha}) and is at most 0.999999.", 'power');
        }
        if ($sides !== 1 && $sides !== 2) {
            throw new InvalidAssumption('A test has 1 side or 2.', 'sides');
        }
        if ($comparisons < 1 || $comparisons > self::MOST_COMPARISONS) {
            throw new InvalidAssumption('A plan compares 1 to '.self::MOST_COMPARISONS.' variants with the control.', 'weights');
        }

        return new self($alpha, $power, $sides, $comparisons, $isCorrected);
    }

    /** Level of each comparison. */
    public function each(): float
    {
        return $this->isCorrected ? $this->alpha / $this->comparisons : $this->alpha;
    }

    /** Probability beyond the critical value, on one side. */
    public function tail(): float
    {
        return $this->each() / $this->sides;
    }

    /** The standard normal value that a difference must exceed to be called one. */
    public function critical(): float
    {
        return Normal::above($this->tail());
    }

    /** The standard normal value that is exceeded with one minus the power. */
    public function reserve(): float
    {
        return Normal::above(1 - $this->power);
    }
}
