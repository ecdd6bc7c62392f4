<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

/** Where the other source takes its days to begin, and by what it counts visitors: whatever makes its table most like ours. */
final class DayShift
{
    /** Half hours that a clock may be off: zones span from −12 to +14 hours. */
    private const FARTHEST = 28;

    /** So much better (twice the logarithm of a likelihood ratio) another explanation has to be than the plain one: one of 57 is the best by chance. */
    private const CLEARLY = 20.0;

    /** A few bad days decide nothing. */
    private const LEFT_OUT = 0.1;

    /** Where counts agree to the last visitor, chance does not vanish altogether. */
    private const LEAST = 1e-4;

    /**
     * @param int    $ahead   half hours that their clock is ahead of ours
     * @param string $counted key of `Ours`: seen, exposed or first
     */
    private function __construct(public int $ahead, public string $counted)
    {
    }

    /**
     * @param non-empty-array<string, Presence>  $ways   by what may be counted, the plain one first
     * @param array<string, array<string, int>>  $theirs day => variant => visitors
     */
    public static function find(array $ways, array $theirs, Calendar $calendar, int $from, int $to): self
    {
        $plain = (string) array_key_first($ways);
        $least = $calendar->day(Presence::slot($from) + self::FARTHEST + 48);
        $most = $calendar->day(Presence::slot($to) - self::FARTHEST - 48);
        $inner = array_filter($theirs, static fn (string $day): bool => $day >= $least && $day <= $most, ARRAY_FILTER_USE_KEY);
        if (count($inner) < 2) {
            return new self(0, $plain);
        }
        $misfits = [];
        foreach ($ways as $way => $presence) {
            for ($ahead = -self::FARTHEST; $ahead <= self::FARTHEST; $ahead++) {
                $misfits["{$way} {$ahead}"] = self::misfit($presence, $inner, $calendar, $ahead);
            }
        }
        // The plain reading stands, unless another is clearly better; and no shift, unless one is.
        $best = "{$plain} 0";
        asort($misfits);
        foreach (array_keys($misfits) as $way) {
            [$counted, $ahead] = explode(' ', $way);
            $rivals = $counted === $plain || $ahead === '0' ? ["{$plain} 0"] : ["{$plain} {$ahead}", "{$counted} 0", "{$plain} 0"];
            if ($way === $best || max(array_map(static fn (string $rival): float => $misfits[$way] - $misfits[$rival], $rivals)) < -self::CLEARLY) {
                $best = $way;
                break;
            }
        }
        [$counted, $ahead] = explode(' ', $best);

        return new self((int) $ahead, $counted);
    }

    /** @param non-empty-array<string, array<string, int>> $theirs */
    private static function misfit(Presence $presence, array $theirs, Calendar $calendar, int $ahead): float
    {
        $cells = $sums = $squares = [];
        foreach (Days::variants($theirs) as $variant) {
            $ours = $presence->days($variant, static fn (int $slot): string => $calendar->day($slot, $ahead));
            foreach ($theirs as $day => $counts) {
                if (isset($counts[$variant])) {
                    $cells[] = [$variant, $ours[$day] ?? 0, $counts[$variant]];
                    $sums[$variant] = [($sums[$variant][0] ?? 0) + ($ours[$day] ?? 0), ($sums[$variant][1] ?? 0) + $counts[$variant]];
                }
            }
        }
        foreach ($cells as [$variant, $own, $their]) {
            $rate = $sums[$variant][1] === 0 ? 1.0 : $sums[$variant][0] / $sums[$variant][1];
            $squares[] = ($own - $rate * $their) ** 2 / max(1.0, $rate * $their);
        }
        sort($squares);
        $kept = array_slice($squares, 0, max(1, count($squares) - (int) floor(self::LEFT_OUT * count($squares))));

        return count($kept) * log(array_sum($kept) / count($kept) + self::LEAST);
    }
}
