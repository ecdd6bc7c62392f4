<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Models\Experiment;
use App\Models\Goal;

/** What a rehearsal vouches for, so that it can be told what has changed since: variants, goals, rules, tags. */
final class About
{
    /** @return array{variants: array<string, string>, goals: array<string, string>, rules: string, wiring: int} */
    public static function of(Experiment $experiment): array
    {
        $rules = [$experiment->kind, $experiment->unit, $experiment->share, $experiment->salt, $experiment->pages, $experiment->audience, $experiment->trigger, $experiment->lifetime_days, $experiment->group_key];

        return [
            'variants' => array_map(self::hash(...), array_column($experiment->variants, null, 'key')),
            'goals' => $experiment->goals->mapWithKeys(static fn (Goal $goal): array => [$goal->key => self::hash($goal->definition)])->all(),
            'rules' => self::hash($rules),
            'wiring' => $experiment->site->wiringNumber(),
        ];
    }

    /**
     * @param array<string, mixed> $then
     * @param array<string, mixed> $now
     *
     * @return list<string> what is not as it was, in words
     */
    public static function changed(array $then, array $now): array
    {
        $changed = [];
        foreach (['variants' => 'variant', 'goals' => 'goal'] as $kind => $word) {
            foreach (($now[$kind] ?? []) as $key => $hash) {
                ($then[$kind][$key] ?? null) === $hash || $changed[] = "{$word} {$key}";
            }
        }
        ($then['rules'] ?? null) === $now['rules'] || $changed[] = 'who may enter, and where';
        ($then['wiring'] ?? null) === $now['wiring'] || $changed[] = 'the site’s tags';

        return $changed;
    }

    private static function hash(mixed $of): string
    {
        return substr(hash('sha256', (string) json_encode($of)), 0, 16);
    }
}
