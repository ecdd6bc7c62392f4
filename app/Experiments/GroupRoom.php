<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Models\Experiment;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Assignment\Group;

/** Gives the members of a group their stretches: none ever overlaps another's while both may take in visitors. */
final class GroupRoom
{
    /**
     * Where the stretch of an experiment begins that is about to start, or has another share now.
     *
     * @param string $field what the person has just changed, where a refusal is shown
     *
     * @throws ValidationException where there is no room
     */
    public static function of(Experiment $experiment, string $field): ?float
    {
        if ($experiment->group_key === null) {
            return null;
        }
        // Whoever has started and is not over: one that is paused may go on.
        $others = Experiment::query()->where('site_id', $experiment->site_id)->where('group_key', $experiment->group_key)->whereKeyNot($experiment->id)
            ->whereIn('state', ['running', 'paused'])->whereNotNull('group_from')->get();
        $taken = array_values($others->map(static fn (Experiment $one): array => [(float) $one->group_from, $one->share])->all());
        if ($others->contains(static fn (Experiment $one): bool => $one->unit !== $experiment->unit)) {
            throw ValidationException::withMessages([$field => "The other experiments of the group \"{$experiment->group_key}\" go by another unit; visitors and users cannot be kept apart from each other."]);
        }
        $hasStarted = $experiment->started_at !== null;
        $from = Group::room($taken, $experiment->share, $experiment->group_from);
        if ($from === null || ($hasStarted && $from !== $experiment->group_from)) {
            $free = 100 * max(0, 1 - array_sum(array_column($taken, 1)));
            throw ValidationException::withMessages([$field => sprintf(
                'The group "%s" has no room for a share of %s %%: the other members leave %s %%%s.',
                $experiment->group_key,
                round(100 * $experiment->share, 2),
                round($free, 2),
                $hasStarted ? ', and those who are in this experiment already stay where they are' : ' in all, and one stretch is needed',
            )]);
        }

        return $from;
    }
}
