<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

/**
 * How many different visitors come within a number of weeks. Of visitors who come again each counts once: so they grow more
 * slowly than visits do.
 */
final readonly class Traffic
{
    /** Nobody plans for longer. */
    public const MOST_WEEKS = 1000;

    /**
     * @param non-empty-array<int, float> $within different visitors within the first one, two, … weeks
     * @param float                 $later  new ones in each week after those
     */
    private function __construct(private array $within, private float $later, public bool $isMeasured)
    {
    }

    /**
     * Every day brings as many visitors who were never there before.
     *
     * @throws InvalidAssumption
     */
    public static function daily(float $visitors): self
    {
        return $visitors > 0 && $visitors <= 1e12 ? new self([7 * $visitors], 7 * $visitors, false)
            : throw new InvalidAssumption('A number of visitors a day is above 0.', 'daily');
    }

    /**
     * As it was measured; later weeks bring as many new visitors as the last one measured did.
     *
     * @param list<mixed> $within different visitors within the first one, two, … weeks: whole numbers that do not fall
     *
     * @throws InvalidAssumption
     */
    public static function measured(array $within): self
    {
        $checked = [];
        foreach ($within as $i => $visitors) {
            if ((! is_int($visitors) && ! is_float($visitors)) || $visitors < ($checked[$i - 1] ?? 0) || $visitors > 1e12) {
                throw new InvalidAssumption('Different visitors within the first one, two, … weeks are numbers that never fall.', "within.{$i}");
            }
            $checked[] = (float) $visitors;
        }
        if ($checked === [] || count($checked) > 53) {
            throw new InvalidAssumption('Visitors of one to 53 weeks are needed.', 'within');
        }
        $last = count($checked) - 1;

        return new self($checked, $checked[$last] - ($checked[$last - 1] ?? 0), true);
    }

    /** Different visitors within so many weeks, whole or not. */
    public function visitors(float $weeks): float
    {
        $whole = (int) floor($weeks);
        $known = count($this->within);
        if ($whole >= $known) {
            return $this->within[$known - 1] + ($weeks - $known) * $this->later;
        }
        $before = $this->within[$whole - 1] ?? 0.0;

        return $before + ($weeks - $whole) * ($this->within[$whole] - $before);
    }

    /** Whole days until so many visitors were there; null where they never will be, in `MOST_WEEKS` weeks. */
    public function days(float $visitors): ?int
    {
        [$few, $enough] = [0, 7 * self::MOST_WEEKS];
        if ($this->visitors(self::MOST_WEEKS) < $visitors * (1 - 1e-12)) {
            return null;
        }
        while ($enough - $few > 1) {
            $middle = intdiv($few + $enough, 2);
            if ($this->visitors($middle / 7) >= $visitors * (1 - 1e-12)) {
                $enough = $middle;
            } else {
                $few = $middle;
            }
        }

        return $enough;
    }
}
