<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Experiments\Periods;

use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;

/**
 * What one unit adds to the figures of an experiment, as `name => number`. The figures of an experiment are the sums over
 * all units: so they can be kept up step by step, by taking off what a unit added before and adding what it adds now.
 */
final class Figures
{
    /**
     * @return array<string, int> `views`, `eligible`, `exposures`, `entered`, `crossed`, `moved`, and for the variant that the unit
     *                            counts for `variant.KEY.exposures`, `.applied`, `.missed`, `.reverted`, `.failed`, `.units`, and `.epoch.N.units`
     */
    public static function entry(?Participation $did): array
    {
        if ($did === null) {
            return [];
        }
        $figures = ['views' => $did->views, 'eligible' => $did->views > 0 ? 1 : 0];
        if (! $did->isExposed()) {
            return $figures;
        }
        $figures += ['exposures' => $did->exposures, 'entered' => 1, 'crossed' => $did->crossed && ! $did->moved ? 1 : 0, 'moved' => $did->moved ? 1 : 0];
        $variant = $did->counts();
        if ($variant === null) {
            return $figures;
        }

        return $figures + [
            "variant.{$variant}.exposures" => $did->exposures,
            "variant.{$variant}.applied" => $did->applied,
            "variant.{$variant}.applied.units" => $did->applied > 0 ? 1 : 0,
            "variant.{$variant}.missed" => $did->missed,
            "variant.{$variant}.missed.units" => $did->missed > 0 ? 1 : 0,
            "variant.{$variant}.reverted" => $did->reverted,
            "variant.{$variant}.reverted.units" => $did->reverted > 0 ? 1 : 0,
            "variant.{$variant}.failed" => $did->failed,
            "variant.{$variant}.failed.units" => $did->failed > 0 ? 1 : 0,
            "variant.{$variant}.units" => 1,
            "variant.{$variant}.epoch.{$did->epoch}.units" => 1,
        ];
    }

    /**
     * Hits of a goal while the experiment ran, by anybody.
     *
     * @param string    $name of the goal within the figures
     * @param list<Hit> $hits of one visitor; of an order that was sent again only the first
     *
     * @return array<string, int> `goal.NAME.everyone.hits` and `.visitors`
     */
    public static function everyone(string $name, Goal $goal, array $hits, Periods $ran): array
    {
        $counted = self::counted($goal, array_filter($hits, static fn (Hit $hit): bool => $ran->contain($hit->time)));

        return $counted === 0 ? [] : ["goal.{$name}.everyone.hits" => $counted, "goal.{$name}.everyone.visitors" => 1];
    }

    /**
     * Hits of a goal by a unit that counts for a variant, at or after its first exposure.
     *
     * @param list<Hit> $hits of one unit; of an order that was sent again only the first
     *
     * @return array<string, int> `goal.NAME.variant.KEY.hits` and `.units`, and `.epoch.N.units` by the epoch of its first exposure
     */
    public static function reached(string $name, Goal $goal, array $hits, Periods $ran, ?Participation $did): array
    {
        $variant = $did?->counts();
        if ($did === null || $variant === null) {
            return [];
        }
        $counted = self::counted($goal, array_filter($hits, static fn (Hit $hit): bool => $hit->time >= $did->first && $ran->contain($hit->time)));

        return $counted === 0 ? [] : [
            "goal.{$name}.variant.{$variant}.hits" => $counted,
            "goal.{$name}.variant.{$variant}.units" => 1,
            "goal.{$name}.variant.{$variant}.epoch.{$did->epoch}.units" => 1,
        ];
    }

    /**
     * How many of the hits of one unit count: one, one a session, or all.
     *
     * @param array<Hit> $hits
     */
    public static function counted(Goal $goal, array $hits): int
    {
        return match (true) {
            $hits === [] => 0,
            $goal->count === 'visitor' => 1,
            $goal->count === 'session' => count(array_unique(array_map(static fn (Hit $hit): string => "{$hit->visitor} {$hit->session->format('U.v')}", $hits))),
            default => count($hits),
        };
    }

    /** The same from sums: how many hits count where so many were reached, in so many sessions, by so many visitors. */
    public static function countedOf(string $count, int $hits, int $sessions, int $visitors): int
    {
        return match ($count) {
            'visitor' => $visitors,
            'session' => $sessions,
            default => $hits,
        };
    }

    /**
     * @param array<string, int> $to
     * @param array<string, int> $figures
     */
    public static function add(array &$to, array $figures, int $sign = 1): void
    {
        foreach ($figures as $name => $number) {
            $to[$name] = ($to[$name] ?? 0) + $sign * $number;
        }
    }
}
