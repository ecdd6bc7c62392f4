<?php

declare(strict_types=1);

namespace App\ReadoutReport;

use App\AuditReport\Html;
use App\AuditReport\Svg;

/** The difference of each variant up to each day, between bounds that hold at every look. */
final class CoursePicture
{
    private const WIDTH = 720;
    private const HEIGHT = 220;

    /**
     * @param array{item: string, days: list<array<string, mixed>>} $course
     * @param list<string>                                          $variants
     */
    public static function of(array $course, array $variants): string
    {
        $pictures = '';
        foreach ($variants as $i => $variant) {
            $days = array_values(array_filter($course['days'], static fn (array $day): bool => isset($day['variants'][$i]['points'], $day['variants'][$i]['low'], $day['variants'][$i]['high'])));
            if (count($days) > 1) {
                $pictures .= self::picture($course['item'], $variant, array_column($days, 'day'), array_map(static fn (array $day): array => $day['variants'][$i], $days));
            }
        }
        $rows = [];
        foreach ($course['days'] as $day) {
            foreach ($day['variants'] as $i => $one) {
                $rows[] = [$day['day'], $variants[$i], $one['n'], $one['hits'], self::number($one['value']), self::number($one['points']), self::number($one['low']), self::number($one['high'])];
            }
        }

        return $pictures.'<details><summary>Day by day</summary>'.Html::table(['day', 'variant', 'n of the day', 'hits of the day', 'value so far', 'difference so far', 'low', 'high'], $rows, 'Course').'</details>';
    }

    /**
     * @param list<string>                                             $days
     * @param list<array{points: float, low: float, high: float}> $looks
     */
    private static function picture(string $item, string $variant, array $days, array $looks): string
    {
        // The first looks know next to nothing: their bounds would make all others look like a line.
        $last = $looks[count($looks) - 1];
        $most = max(1e-12, 4 * ($last['high'] - $last['low']), abs($last['points']) * 1.5);
        $x = static fn (int $i): float => 60 + $i * (self::WIDTH - 80) / (count($looks) - 1);
        $y = static fn (float $value): float => self::HEIGHT / 2 - max(-1.0, min(1.0, $value / $most)) * (self::HEIGHT / 2 - 25);
        $svg = new Svg(self::WIDTH, self::HEIGHT, "Difference of {$variant} in {$item} so far, day by day, with its bounds");
        $up = array_map(static fn (array $look, int $i): array => [$x($i), $y($look['high'])], $looks, array_keys($looks));
        $down = array_map(static fn (array $look, int $i): array => [$x($i), $y($look['low'])], $looks, array_keys($looks));
        $svg->area([...$up, ...array_reverse($down)]);
        $svg->line(60, $y(0.0), self::WIDTH - 20, $y(0.0), true);
        $svg->path(array_map(static fn (array $look, int $i): array => [$x($i), $y($look['points'])], $looks, array_keys($looks)));
        $svg->text(54, $y(0.0) + 4, '0', 'end');
        $svg->text(54, $y($last['points']) + 4, self::number($last['points']), 'end', true);
        $svg->text(60, self::HEIGHT - 4, $days[0]);
        $svg->text(self::WIDTH - 20, self::HEIGHT - 4, $days[count($days) - 1], 'end');

        return "<figure>{$svg}<figcaption>".Html::escaped($variant).': difference so far, and bounds that hold however often one looks</figcaption></figure>';
    }

    private static function number(?float $number): string
    {
        return $number === null ? '–' : rtrim(rtrim(number_format($number, 5, '.', ''), '0'), '.');
    }
}
