<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

/** Two tables of counts by day, and variant where both have them, side by side. */
final readonly class Days
{
    /** A day is whole where the log covers so much of what comes in the hours of a day. */
    private const WHOLE = 0.97;

    /** Confidence that no day is called off that is not (common practice, no source). */
    private const CERTAIN = 0.99;

    /** @var array<string, array{int, int}> variant => ours and theirs, of whole days */
    public array $sums;

    /** Variance of days over what chance makes, as far as the variants of a day differ. */
    public float $within;

    /** @var array<string, float|null> variant => variance of the difference for each visitor; null for what chance makes */
    private array $variances;

    /** @var list<array{day: string, variant: string|null, ours: int, theirs: int, difference: Difference, partial: bool}> */
    public array $rows;

    /**
     * @param array<string, array<string, int>> $ours   day => variant ('' for none) => number
     * @param array<string, array<string, int>> $theirs
     * @param callable(string): bool            $isWhole whether our log covers a day
     */
    public function __construct(array $ours, array $theirs, callable $isWhole)
    {
        ksort($theirs);
        $variants = self::variants($theirs);
        $days = array_keys($theirs);
        if ($days !== []) {
            // What they lack between their first day and their last is missing there.
            $days = array_values(array_unique([...$days, ...array_filter(array_keys($ours), static fn (string $day): bool => $day > $days[0] && $day < end($days))]));
            sort($days);
        }
        $whole = array_filter($days, $isWhole);
        $whole = $whole === [] ? $days : $whole;
        $cells = $sums = [];
        foreach ($days as $day) {
            foreach ($variants as $variant) {
                $cell = [$ours[$day][$variant] ?? 0, $theirs[$day][$variant] ?? 0];
                if (in_array($day, $whole, true)) {
                    $cells[$day][$variant] = $cell;
                    $sums[$variant] = [($sums[$variant][0] ?? 0) + $cell[0], ($sums[$variant][1] ?? 0) + $cell[1]];
                }
            }
        }
        $this->sums = $sums;
        $this->within = Spread::of($cells, true);
        $this->variances = Spread::variances($cells, $sums);
        $rows = [];
        foreach ($days as $day) {
            foreach ($variants as $variant) {
                [$own, $their] = [$ours[$day][$variant] ?? 0, $theirs[$day][$variant] ?? 0];
                $rows[] = ['day' => $day, 'variant' => $variant === '' ? null : $variant, 'ours' => $own, 'theirs' => $their, 'difference' => Difference::of($own, $their, $this->variances[$variant] ?? null), 'partial' => ! in_array($day, $whole, true)];
            }
        }
        $this->rows = $rows;
    }

    /**
     * @param array<string, array<string, int>> $table
     *
     * @return list<string>
     */
    public static function variants(array $table): array
    {
        $variants = [];
        foreach ($table as $counts) {
            $variants += array_fill_keys(array_keys($counts), true);
        }

        return array_map(strval(...), array_keys($variants));
    }

    /**
     * Whether a log covers a day: by what part of a day's events comes in the hours that it has.
     *
     * @param array<int, int> $hours hour since 1970 => events of the log
     * @param int             $ahead half hours that the days' clock is ahead
     *
     * @return callable(string): bool
     */
    public static function covered(array $hours, int $from, int $to, Calendar $calendar, int $ahead): callable
    {
        $profile = array_fill(0, 24, 0);
        foreach ($hours as $hour => $events) {
            $profile[$hour % 24] += $events;
        }
        $all = max(1, array_sum($profile));
        $parts = [];
        // A day before and a day after: its own first and last hours may be those that are missing.
        for ($slot = Presence::slot($from) - 96, $end = Presence::slot($to) + 96; $slot <= $end; $slot++) {
            $day = $calendar->day($slot, $ahead);
            $weight = $profile[($slot >> 1) % 24] / $all / 2;
            $parts[$day][0] = ($parts[$day][0] ?? 0.0) + $weight;
            $parts[$day][1] = ($parts[$day][1] ?? 0.0) + ($slot >= Presence::slot($from) && $slot <= Presence::slot($to) ? $weight : 0.0);
        }

        return static fn (string $day): bool => isset($parts[$day]) && $parts[$day][0] > 0 && $parts[$day][1] >= self::WHOLE * $parts[$day][0];
    }

    /** @return array{int, int} ours and theirs of all variants, of whole days */
    public function total(): array
    {
        return [(int) array_sum(array_column($this->sums, 0)), (int) array_sum(array_column($this->sums, 1))];
    }

    /** The difference of a variant, or of all (null). */
    public function difference(?string $variant): Difference
    {
        [$ours, $theirs] = $variant === null ? $this->total() : $this->sums[$variant];
        $known = array_filter($this->variances, static fn (?float $variance): bool => $variance !== null);

        return Difference::of($ours, $theirs, $variant === null ? ($known === [] ? null : array_sum($known) / count($known)) : $this->variances[$variant] ?? null);
    }

    /** Whether the sum of a variant is off by more than the tolerance. */
    public function isSumOff(float $tolerance): bool
    {
        foreach ($this->sums as [$ours, $theirs]) {
            if ($theirs > 0 && ! Difference::of($ours, $theirs)->isWithin($tolerance)) {
                return true;
            }
        }

        return false;
    }

    /** Whether that, or a day by itself, is. */
    public function isOff(float $tolerance): bool
    {
        return $this->isSumOff($tolerance) || $this->clearlyOut($tolerance) !== [];
    }

    /** @return list<string> days that are off whatever chance did, though the worst of many is looked for (Bonferroni) */
    public function clearlyOut(float $tolerance): array
    {
        $out = [];
        $level = 1 - (1 - self::CERTAIN) / max(1, count($this->rows));
        foreach ($this->rows as $row) {
            if (! $row['partial'] && ($row['ours'] > 0 || $row['theirs'] > 0) && Difference::of($row['ours'], $row['theirs'], $this->variances[$row['variant'] ?? ''] ?? null, $level)->isClearlyOut($tolerance)) {
                $out[$row['day']] = true;
            }
        }

        return array_keys($out);
    }

    /** @return list<array<string, mixed>> */
    public function toArray(float $tolerance): array
    {
        return array_map(static fn (array $row): array => [
            'day' => $row['day'], 'variant' => $row['variant'], 'ours' => $row['ours'], 'theirs' => $row['theirs'],
            'difference' => $row['difference']->part, 'low' => $row['difference']->low, 'high' => $row['difference']->high,
            'within' => $row['difference']->isWithin($tolerance) || ($row['ours'] === 0 && $row['theirs'] === 0), 'partial' => $row['partial'],
        ], $this->rows);
    }
}
