<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

use Pellix\Core\Chain\Words;

/** Looks for what speaks against a plan. */
final readonly class Warnings
{
    /** More variants than that, the control with them, share little traffic badly (common practice, no source). */
    private const MANY_VARIANTS = 4;

    /** Traffic is little where the plan takes more weeks than that (common practice, no source). */
    private const LITTLE_TRAFFIC_WEEKS = 4;

    /** @return list<Warning> */
    public static function of(Outcome $outcome): array
    {
        return [...self::time($outcome), ...self::chosen($outcome), ...self::measure($outcome)];
    }

    /** @return list<Warning> */
    private static function time(Outcome $outcome): array
    {
        $weeks = $outcome->weeks();
        if ($outcome->plan->traffic === null || $outcome->needed() === null || ($weeks !== null && $weeks <= Outcome::LONG_WEEKS)) {
            return [];
        }
        $doubling = $outcome->weeksForDoubling();
        if ($doubling !== null && $doubling > Outcome::LONG_WEEKS) {
            return [new Warning(Caution::TooQuiet, "This page is too quiet: even a doubling would take {$doubling} weeks. Test where more visitors come, or a goal that more of them reach.")];
        }

        return [new Warning(Caution::LongRun, ($weeks === null ? 'Not in '.Traffic::MOST_WEEKS.' weeks would so many visitors come.' : "{$weeks} weeks are long: visitors lose their cookies and come back as new ones, and the season changes.")
            .' Look for a larger effect, a goal that more visitors reach, or fewer variants.')];
    }

    /** @return list<Warning> about the days that somebody chose */
    private static function chosen(Outcome $outcome): array
    {
        $days = $outcome->plan->days;
        if ($days === null) {
            return [];
        }
        $found = [];
        if ($days <= 3) {
            $found[] = new Warning(Caution::ThreeDays, 'Three days as a minimum is a habit without a reason: they hold neither a whole week nor the visitors who think for longer before they decide.');
        }
        if ($days < 7) {
            $found[] = new Warning(Caution::UnderAWeek, 'Under a week: visitors of the weekdays that are left out may decide otherwise.');
        } elseif ($days % 7 !== 0) {
            $found[] = new Warning(Caution::NotWholeWeeks, 'Not whole weeks: '.Words::count($days % 7, 'weekday').' would count once more than the others. '.(7 * (int) ceil($days / 7)).' days are '.Words::count((int) ceil($days / 7), 'week').'.');
        }
        if ($outcome->needed() !== null && $outcome->plan->traffic !== null && ($outcome->days === null || $days < $outcome->days)) {
            $found[] = new Warning(Caution::TooShort, 'Too short for the effect that is wanted: '.($outcome->days === null ? 'it would never be found' : 'it takes '.Words::count($outcome->days, 'day'))
                .($outcome->found === null ? '.' : '; so few visitors find '.PlanWords::effect($outcome->plan, $outcome->found).' at least.'));
        }

        return $found;
    }

    /** @return list<Warning> */
    private static function measure(Outcome $outcome): array
    {
        $found = [];
        $variants = count($outcome->plan->weights);
        if ($variants > self::MANY_VARIANTS && $outcome->plan->traffic !== null && ($outcome->weeks() ?? PHP_INT_MAX) > self::LITTLE_TRAFFIC_WEEKS) {
            $found[] = new Warning(Caution::ManyVariants, "{$variants} variants on little traffic: each gets few visitors and must stand out more. Try the best ideas first.");
        }
        if ($outcome->exact !== null) {
            $found[] = new Warning(Caution::RareGoal, 'The goal is so rare that the normal approximation is poor (under '.Planner::FEW.' expected in a group); time and words go by the exact calculation: '.implode(', ', array_map(Words::number(...), $outcome->exact->each)).'.');
        } elseif ($outcome->isOnlyRough()) {
            $found[] = new Warning(Caution::RareGoal, 'The normal approximation is poor here (under '.Planner::FEW.' expected in a group), and there are too many cases to add up: take the figure as a rough one.');
        }
        if ($outcome->plan->demand->sides === 1 && ! $outcome->plan->measure instanceof NotWorse) {
            $found[] = new Warning(Caution::OneSide, 'A test with one side says nothing about the other: a variant that does harm would look like one that does nothing.');
        }

        return $found;
    }
}
