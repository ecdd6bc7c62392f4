<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** Goals: does what should count arrive, in every variant? */
final class GoalsLink
{
    /** A variant with fewer exposed visitors than this may well have no hit yet (common practice, no source). */
    private const ENOUGH_VISITORS = 100;

    public static function judge(Observations $seen): Verdict
    {
        if ($seen->goals === []) {
            return new Verdict(Link::Goals, State::Unseen, 'No goal is defined.');
        }
        $evidence = [];
        $lasts = [];
        $doubt = null;
        foreach ($seen->goals as $goal) {
            $evidence[] = new Evidence(self::what($goal, $seen), $goal->everyone->last, 'collector');
            $lasts[] = $goal->hits() > 0 ? $goal->everyone->last : null;
            $doubt ??= self::silentVariant($goal, $seen);
        }
        $silent = array_values(array_filter($seen->goals, static fn (GoalSeen $goal): bool => $goal->hits() === 0));
        if ($silent !== []) {
            return self::silent($silent[0], $seen, $evidence);
        }
        if ($doubt !== null) {
            return new Verdict(Link::Goals, State::Doubt, $doubt, $evidence);
        }

        return $seen->isStale(min($lasts))
            ? new Verdict(Link::Goals, State::Stale, 'Goals were reached, but not lately.', $evidence)
            : new Verdict(Link::Goals, State::Holds, 'Every goal is being reached.', $evidence);
    }

    /** @param list<Evidence> $evidence */
    private static function silent(GoalSeen $goal, Observations $seen, array $evidence): Verdict
    {
        if (! $goal->everyone->nothing()) {
            return new Verdict(
                Link::Goals,
                $seen->exposedVisitors() >= self::ENOUGH_VISITORS ? State::Doubt : State::Unseen,
                "Goal “{$goal->name}” is reached on the site, but by nobody in this experiment.",
                $evidence,
            );
        }

        return new Verdict(Link::Goals, State::Unseen, "Goal “{$goal->name}” has not been reached by anybody.", $evidence);
    }

    private static function silentVariant(GoalSeen $goal, Observations $seen): ?string
    {
        foreach ($seen->variants as $variant) {
            $hits = $goal->variants[$variant->key] ?? new Seen();
            if ($hits->nothing() && $variant->exposures->visitors >= self::ENOUGH_VISITORS) {
                return "Goal “{$goal->name}” is reached, but never in variant “{$variant->name}”.";
            }
        }

        return null;
    }

    private static function what(GoalSeen $goal, Observations $seen): string
    {
        $parts = [];
        foreach ($seen->variants as $variant) {
            $parts[] = "{$variant->name} ".Words::number(($goal->variants[$variant->key] ?? new Seen())->count);
        }

        return "{$goal->name}: ".Words::count($goal->hits(), 'hit').' in the experiment ('.implode(', ', $parts).'), '
            .Words::number($goal->everyone->count).' on the site';
    }
}
