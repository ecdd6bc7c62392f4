<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\VolumeSum;

/**
 * How many events (or visits) a part of the traffic is expected to have in each hour, from the rest of the traffic in the same hours:
 * by the odds that it has in that stretch of the day and in that epoch.
 */
final readonly class Expectation
{
    /** Of variants that are larger by more the others tell too little. */
    private const SMALLER = 1.5;

    /** Visits reach over the ends of hours, so that neighbours are alike (common practice, no source). */
    public const LEAST_DISPERSION = 1.4;

    /** Hours of a day that are taken together. */
    private const TOGETHER = 3;

    /** What a whole day lends to a stretch of it that has few events, in events. */
    private const LENT = 50;

    /**
     * @param array<int, int>   $own        hour => events (or visits)
     * @param array<int, float> $expected   the same hours, all of them between the first and the last
     * @param float             $dispersion variance over mean, what each visitor sends at once left aside
     */
    private function __construct(public array $own, public array $expected, public float $dispersion)
    {
    }

    /**
     * @param int       $from    first whole hour
     * @param int       $to      hour after the last
     * @param bool      $isVisits whether visits are asked for; else events
     * @param list<Gap> $without gaps that are known, which do not count for what is expected
     */
    public static function of(VolumeSum $volume, Setup $setup, string $key, int $from, int $to, bool $isVisits, array $without): self
    {
        $own = $isVisits ? $volume->visits($key) : $volume->hours($key);
        [$rest, $from, $to] = self::rest($volume, $setup, $key, $own, $isVisits, $from, $to);
        $expected = self::expected($own, $rest, $from, $to, $setup, $without);

        return new self($own, $expected, self::dispersion($own, $rest, $expected, $isVisits ? 1.0 : $volume->clumping($key)));
    }

    public function hours(): int
    {
        return count($this->expected);
    }

    /** Whether it is there only while the experiment runs. */
    private static function isOfRun(string $key): bool
    {
        [$dimension, $value] = Keys::parts($key);

        return str_contains($dimension, 'variant') || (str_starts_with($dimension, 'event') && strtok($value, '+') === 'exposure');
    }

    /**
     * What it is compared with: the other variants in the same hours, where these are not much smaller, or all other events.
     *
     * @param array<int, int> $own
     *
     * @return array{array<int, int>, int, int} hour => events (or visits), first hour, and the one after the last
     */
    private static function rest(VolumeSum $volume, Setup $setup, string $key, array $own, bool $isVisits, int $from, int $to): array
    {
        [$dimension, $value] = Keys::parts($key);
        $of = static fn (string $one): array => $isVisits ? $volume->visits($one) : $volume->hours($one);
        $rest = [];
        if (str_contains($dimension, 'variant')) {
            $first = $dimension === 'variant' ? '' : strtok($value, '+').'+';
            foreach ($setup->variants as $variant) {
                foreach ($first.$variant === $value ? [] : $of(Keys::key($dimension, $first.$variant)) as $hour => $number) {
                    $rest[$hour] = ($rest[$hour] ?? 0) + $number;
                }
            }
        }
        if (! str_contains($dimension, 'variant') || array_sum($own) > self::SMALLER * array_sum($rest)) {
            // Who sends several kinds of events is a visitor of each; who has one browser is of no other.
            $rest = $of('');
            if (! $isVisits || in_array($dimension, ['browser', 'device', 'browser+device'], true)) {
                foreach ($own as $hour => $number) {
                    $rest[$hour] = max(0, ($rest[$hour] ?? 0) - $number);
                }
            }
        }
        if (self::isOfRun($key)) {
            $from = max($from, $setup->from === PHP_INT_MIN ? $from : intdiv($setup->from, 3_600_000) + 1);
            $to = min($to, $setup->to === PHP_INT_MAX ? $to : intdiv($setup->to, 3_600_000));
            // While it was paused nothing is to be expected.
            $rest = array_filter($rest, static fn (int $hour): bool => $setup->isDuring(3_600_000 * $hour) && $setup->isDuring(3_600_000 * ($hour + 1)), ARRAY_FILTER_USE_KEY);
        }
        // What had not begun yet is no gap.
        $hours = array_keys($own);

        return [$rest, $hours === [] ? $to : max($from, min($hours)), $to];
    }

    /**
     * By the part that it makes of the rest, in each stretch of the day and in each epoch: a change of share, weights or rules that was
     * declared is no gap.
     *
     * @param array<int, int> $own
     * @param array<int, int> $rest
     * @param list<Gap>       $without
     *
     * @return array<int, float> hour => expected
     */
    private static function expected(array $own, array $rest, int $from, int $to, Setup $setup, array $without): array
    {
        $sums = [];
        $group = [];
        for ($hour = $from; $hour < $to; $hour++) {
            $epoch = $setup->epochAt(3_600_000 * $hour);
            $group[$hour] = $epoch * 24 + intdiv($hour % 24, self::TOGETHER);
            foreach ($without as $gap) {
                if ($gap->holds($hour)) {
                    continue 2;
                }
            }
            foreach ([$group[$hour], -1 - $epoch] as $of) {
                $sums[$of] = [($sums[$of][0] ?? 0) + ($own[$hour] ?? 0), ($sums[$of][1] ?? 0) + ($rest[$hour] ?? 0)];
            }
        }
        $expected = [];
        for ($hour = $from; $hour < $to; $hour++) {
            [$a, $b] = $sums[$group[$hour]] ?? [0, 0];
            [$c, $d] = $sums[-1 - intdiv($group[$hour], 24)] ?? [0, 0];
            // Where a stretch of the day has few events, the whole day lends some.
            $odds = $d === 0 ? 0.0 : ($a + self::LENT * $c / max(1, $c + $d)) / max(1e-9, $b + self::LENT * $d / max(1, $c + $d));
            $expected[$hour] = ($rest[$hour] ?? 0) * $odds;
        }

        return $expected;
    }

    /**
     * How much more it varies than Poisson's counts: by the median of squares over stretches long enough, which for chi-square with one
     * degree of freedom is 0.4549.
     *
     * @param array<int, int>   $own
     * @param array<int, int>   $rest
     * @param array<int, float> $expected
     */
    private static function dispersion(array $own, array $rest, array $expected, float $clumping): float
    {
        // Given the rest, the variance of a part is its mean times (1 + odds).
        $odds = 1 + min(5.0, array_sum($own) / max(1, array_sum($rest)));
        $squares = [];
        [$y, $e] = [0, 0.0];
        foreach ($expected as $hour => $mean) {
            $y += $own[$hour] ?? 0;
            $e += $mean;
            if ($e >= 5 * $clumping) {
                $squares[] = ($y - $e) ** 2 / ($e * $odds * $clumping);
                [$y, $e] = [0, 0.0];
            }
        }

        return $odds * max(self::LEAST_DISPERSION, Rhythm::median($squares) / 0.4549);
    }
}
