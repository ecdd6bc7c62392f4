<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Models\Experiment;
use App\Models\Goal;
use Pellix\Core\Rehearsal\Subject;

/** What a rehearsal vouches for, so that it can be told what has changed since: variants, goals, rules, tags. */
final class About
{
    /** @return array{variants: array<string, string>, goals: array<string, string>, rules: string, wiring: int} */
    public static function of(Experiment $experiment): array
    {
        $rules = [$experiment->kind, $experiment->unit, $experiment->share, $experiment->salt, $experiment->pages, $experiment->audience, $experiment->trigger, $experiment->lifetime_days, $experiment->group_key];

        return [
            'variants' => array_map(Subject::print(...), array_column($experiment->variants, null, 'key')),
            'goals' => $experiment->goals->mapWithKeys(static fn (Goal $goal): array => [$goal->key => Subject::print($goal->definition)])->all(),
            'rules' => Subject::print($rules),
            'wiring' => $experiment->site->wiringNumber(),
        ];
    }

    /**
     * @param array<string, mixed> $rehearsed what the newest rehearsal vouched for
     *
     * @return list<string> what has changed since, in words
     */
    public static function since(array $rehearsed, Experiment $experiment): array
    {
        return Subject::changed((array) $rehearsed['about'], self::of($experiment), $rehearsed['pages'] ?? []);
    }
}
