<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/** How the difference of an item has come about: day by day, and all up to each day with intervals that hold at every look. */
final class Course
{
    /** Of a longer run the days before the last so many are left out. */
    private const MOST_DAYS = 400;

    /**
     * @return list<array{day: string, variants: list<array{n: int, hits: int, value: float|null, points: float|null, low: float|null, high: float|null}>}>
     *         `n`, `hits`: of that day; `value`, `points` and its bounds: of all up to that day (points of the control: null)
     */
    public static function of(Item $item, Subject $subject, Table $table, Look $look): array
    {
        $days = [];
        foreach (array_slice($table->days(), -self::MOST_DAYS) as $day) {
            $samples = array_map(static fn (int $variant): array => $table->samples($item, $variant, null, $day), array_keys($subject->variants));
            $own = array_map(static fn (int $variant): array => $table->ofDay($item, $variant, $day), array_keys($subject->variants));
            $values = Comparison::values($samples);
            $variants = [];
            foreach ($samples as $variant => $epochs) {
                $comparing = $variant === $subject->control ? null : Comparing::of($item->measure, $epochs, $samples[$subject->control], $look->level);
                $interval = $comparing?->anytimeInterval(Comparison::pair($look, $samples, $variant, $subject->control));
                $variants[] = [
                    'n' => $own[$variant][0],
                    'hits' => $own[$variant][1],
                    'value' => $values[$variant],
                    'points' => $comparing?->points(),
                    'low' => $interval === null || ! is_finite($interval->low) ? null : $interval->low,
                    'high' => $interval === null || ! is_finite($interval->high) ? null : $interval->high,
                ];
            }
            $days[] = ['day' => gmdate('Y-m-d', 86_400 * $day), 'variants' => $variants];
        }

        return $days;
    }
}
