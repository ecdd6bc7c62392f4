<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Models\Experiment;
use App\ReadModel\Readings;

/** What is known of an experiment that runs, for saying what a change would do to it. */
final class ChangePreview
{
    /** @return array{list<int>, float|null} visitors of each variant so far, and the part of them who reached the primary goal */
    public static function known(Experiment $experiment): array
    {
        $reading = Readings::one($experiment->site_id, 'experiment', (string) $experiment->id) ?? [];
        $seen = array_column($reading['variants'] ?? [], null, 'key');
        $keys = array_column($experiment->variants, 'key');
        $units = array_map(static fn (string $key): int => (int) ($seen[$key]['exposures']['visitors'] ?? 0), $keys);
        $primary = null;
        foreach ($experiment->goals as $goal) {
            $primary = $primary === null || $goal->pivot->role === 'primary' ? $goal->id : $primary;
        }
        $reached = array_column($reading['goals'] ?? [], null, 'goal_id')[$primary]['variants'] ?? null;
        $all = array_sum($units);

        return [$units, $reached === null || $all === 0 ? null : array_sum(array_column($reached, 'visitors')) / $all];
    }
}
