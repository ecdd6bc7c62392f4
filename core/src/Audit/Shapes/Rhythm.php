<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

/**
 * How many events an hour of the week is expected to have, from the log itself, by medians, so that gaps do not hide
 * themselves: the median of each hour of the day, times the median of how much the days of each weekday differ from that.
 */
final readonly class Rhythm
{
    /** Fewer days tell no rhythm (common practice, no source). */
    public const FEWEST_DAYS = 4;

    private const BUSY = 5.0;

    /** What the upper quarter of the hours of a day is above their middle, by chance alone (common practice, no source). */
    private const ABOVE = 1.12;

    /**
     * @param list<float>             $hours   of the day
     * @param array<int, float>       $week    weekday => factor
     * @param float                   $days    how much days vary by themselves (standard deviation over mean)
     * @param float                   $dispersion variance over mean of hours, beside that
     * @param array<int, float>       $moods   day since 1970 => how busy it was against the rhythm, by its better hours
     */
    private function __construct(private array $hours, private array $week, public float $days, public float $dispersion, private array $moods)
    {
    }

    /**
     * @param array<int, int> $series hour since 1970 => events
     * @param int             $from   first whole hour
     * @param int             $to     hour after the last whole one
     */
    public static function of(array $series, int $from, int $to): ?self
    {
        if ($to - $from < 24 * self::FEWEST_DAYS) {
            return null;
        }
        $byHour = [];
        for ($hour = $from; $hour < $to; $hour++) {
            $byHour[$hour % 24][] = $series[$hour] ?? 0;
        }
        ksort($byHour);
        $median = array_map(self::median(...), $byHour);
        $ratios = [];
        for ($hour = $from; $hour < $to; $hour++) {
            if (($median[$hour % 24] ?? 0) >= self::BUSY) {
                $ratios[intdiv($hour, 24)][] = ($series[$hour] ?? 0) / $median[$hour % 24];
            }
        }
        $days = array_map(self::median(...), array_filter($ratios, static fn (array $of): bool => count($of) >= 4));
        $byWeekday = [];
        foreach ($days as $day => $ratio) {
            $byWeekday[$day % 7][] = $ratio;
        }
        // Of a weekday that came once, half of what it differed by is believed.
        $week = array_map(static fn (array $of): float => count($of) > 1 ? self::median($of) : (1 + self::median($of)) / 2, $byWeekday);
        $left = [];
        foreach ($days as $day => $ratio) {
            $left[] = abs($ratio / max(0.05, $week[$day % 7] ?? 1.0) - 1);
        }
        $rhythm = new self(self::whole($median), $week, max(0.08, 1.4826 * self::median($left)), 1.0, []);
        $squares = [];
        for ($hour = $from; $hour < $to; $hour++) {
            $expected = $rhythm->at($hour);
            if ($expected >= self::BUSY) {
                $mood = $days[intdiv($hour, 24)] ?? 1.0;
                $mean = ($median[$hour % 24] ?? 1.0) * max(0.05, $mood);
                $squares[] = (($series[$hour] ?? 0) - $mean) ** 2 / $mean;
            }
        }

        // The median of a chi-square variable with one degree of freedom is 0.4549.
        $moods = [];
        foreach ($ratios as $day => $of) {
            if (count($of) >= 8) {
                sort($of);
                // The upper quarter: a gap of some hours does not hide itself; and hours vary, so that it is a little above the middle.
                $better = $of[intdiv(3 * count($of), 4)] / max(0.05, $week[$day % 7] ?? 1.0);
                $moods[$day] = max(0.6, min(1.5, $better / self::ABOVE));
            }
        }

        return new self($rhythm->hours, $week, $rhythm->days, max(1.0, self::median($squares) / 0.4549), $moods);
    }

    /**
     * @param array<int, float> $median
     *
     * @return list<float>
     */
    private static function whole(array $median): array
    {
        return array_map(static fn (int $hour): float => $median[$hour] ?? 0.0, range(0, 23));
    }

    /** Events that an hour is expected to have. */
    public function at(int $hour): float
    {
        return $this->hours[$hour % 24] * ($this->week[intdiv($hour, 24) % 7] ?? 1.0);
    }

    /** The same, with how busy that day was. */
    public function thatDay(int $hour): float
    {
        return $this->at($hour) * ($this->moods[intdiv($hour, 24)] ?? 1.0);
    }

    /** @param array<int|float> $of */
    public static function median(array $of): float
    {
        $of = array_values($of);
        sort($of);
        $n = count($of);

        return $n === 0 ? 0.0 : ($of[intdiv($n - 1, 2)] + $of[intdiv($n, 2)]) / 2;
    }
}
