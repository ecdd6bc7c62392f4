<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

use Pellix\Core\Statistics\FisherExact;

/** Plans an experiment: every variant is compared with the control, which is the first. */
final readonly class Planner
{
    /** With fewer expected conversions (or visitors without one) in a group the normal approximation is poor: the limit of the NIST/SEMATECH e-Handbook, 1.3.5.15, for expected counts. */
    public const FEW = 5;

    /** More visitors than that nobody has. */
    private const MOST_VISITORS = 1e15;

    /**
     * @param non-empty-list<float> $ratios of each variant to the control, the control's left out
     */
    private function __construct(private Measure $measure, private Demand $demand, private array $ratios)
    {
    }

    /**
     * @param list<float> $weights the control first; all above 0
     *
     * @throws InvalidAssumption
     */
    public static function of(Measure $measure, Demand $demand, array $weights): self
    {
        if (count($weights) < 2) {
            throw new InvalidAssumption('A plan needs the weights of at least two variants.', 'weights');
        }
        if (count($weights) !== $demand->comparisons + 1) {
            throw new InvalidAssumption("{$demand->comparisons} comparisons need one variant more than that.", 'weights');
        }
        foreach ($weights as $i => $weight) {
            if (! ($weight > 0 && $weight <= 1e9)) {
                throw new InvalidAssumption('A weight is a number above 0: a variant that gets nobody cannot be planned for.', "weights.{$i}");
            }
        }

        return new self($measure, $demand, array_map(static fn (float $weight): float => $weight / $weights[0], array_slice($weights, 1)));
    }

    /**
     * How many visitors a difference takes.
     *
     * @param float $difference in units of the measure
     *
     * @throws InvalidAssumption where there cannot be such a difference, or no number of visitors would do
     */
    public function visitors(float $difference): Sizes
    {
        $control = max(array_map(fn (float $ratio): float => $this->measure->visitors($difference, $ratio, $this->demand), array_unique($this->ratios)));
        if (! ($control * (1 + array_sum($this->ratios)) < self::MOST_VISITORS)) {
            throw new InvalidAssumption('So small a difference would take more visitors than there are.', 'lift');
        }

        return $this->sizes($control, $this->measure->kind() === 'mean' ? 2 : 1);
    }

    /**
     * The same by Fisher's exact test, where so few conversions are expected that the normal approximation is poor.
     *
     * @return Sizes|null null where it is not, or where there are too many counts to add up
     */
    public function exactly(float $difference): ?Sizes
    {
        $about = $this->visitors($difference);
        if (! $this->isPoor($difference, $about)) {
            return null;
        }
        $control = 1;
        foreach (array_unique($this->ratios) as $ratio) {
            $needed = $this->exactControl($difference, $ratio, $about->each[0]);
            if ($needed === null) {
                return null;
            }
            $control = max($control, $needed);
        }

        return $this->sizes((float) $control, 1);
    }

    /**
     * The chance that each variant's difference is found.
     *
     * @param float $total visitors of all variants together, divided as the weights say
     *
     * @return non-empty-list<float>
     */
    public function powers(float $difference, float $total): array
    {
        return array_map(fn (float $ratio): float => $this->measure->power($difference, $this->control($total), $ratio, $this->demand), $this->ratios);
    }

    /**
     * The smallest difference that a number of visitors finds with the power that is asked for, for every variant; of a guardrail
     * the smallest margin.
     *
     * @param int $way 1 upwards, -1 downwards
     *
     * @return float|null above 0; null where not even the largest that there can be would be found
     */
    public function smallest(float $total, int $way): ?float
    {
        $all = array_map(fn (float $ratio): ?float => $this->measure->smallest($this->control($total), $ratio, $this->demand, $way), array_unique($this->ratios));

        return in_array(null, $all, true) ? null : max($all);
    }

    /** Whether so few conversions, or so few visitors without one, are expected somewhere that the normal approximation is poor. */
    public function isPoor(float $difference, Sizes $sizes): bool
    {
        if (! $this->measure instanceof Proportions) {
            return false;
        }
        foreach ($sizes->each as $i => $n) {
            $rate = $i === 0 ? $this->measure->baseline() : $this->measure->other($difference);
            if ($n * min($rate, 1 - $rate) < self::FEW) {
                return true;
            }
        }

        return false;
    }

    /** The smallest number found by halving: exact power moves up in small steps, now and then a little down. */
    private function exactControl(float $difference, float $ratio, int $about): ?int
    {
        /** @var Proportions $measure */
        $measure = $this->measure;
        $isEnough = fn (int $n): ?bool => ($power = FisherExact::power($n, max(1, (int) ceil($ratio * $n)), $measure->baseline(), $measure->other($difference), $this->demand->each(), $this->demand->sides)) === null
            ? null : $power >= $this->demand->power;
        [$few, $many] = [max(1, intdiv($about, 3)), max(2, $about)];
        while (($is = $isEnough($many)) === false) {
            [$few, $many] = [$many, (int) ceil($many * 1.5)];
        }
        if ($is === null) {
            return null;
        }
        while ($many - $few > 1) {
            $middle = intdiv($few + $many, 2);
            if ($isEnough($middle) === true) {
                $many = $middle;
            } else {
                $few = $middle;
            }
        }

        return $many;
    }

    private function control(float $total): float
    {
        return $total / (1 + array_sum($this->ratios));
    }

    private function sizes(float $control, int $least): Sizes
    {
        // A hair less than what rounding errors add: 100.00000000001 visitors are 100.
        $up = static fn (float $n): int => max($least, (int) ceil($n - 1e-9 * max(1.0, $n)));

        return new Sizes([$up($control), ...array_map(static fn (float $ratio): int => $up($control * $ratio), $this->ratios)]);
    }
}
