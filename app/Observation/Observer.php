<?php

declare(strict_types=1);

namespace App\Observation;

use App\Models\Experiment;
use App\Models\Goal;
use App\ReadModel\Definitions;
use App\ReadModel\ExperimentReading;
use App\ReadModel\Readings;
use App\Rehearsals\About;
use Carbon\CarbonImmutable;
use DateTimeInterface;
use Pellix\Core\Chain\EpochSeen;
use Pellix\Core\Chain\GoalSeen;
use Pellix\Core\Chain\Observations;
use Pellix\Core\Chain\PagesInspected;
use Pellix\Core\Chain\Rehearsed;
use Pellix\Core\Chain\Seen;
use Pellix\Core\Chain\VariantSeen;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\Statistics\SampleRatioResult;

/** Hands what the workers have put together of an experiment to the core, to be judged for this moment. Reads, and nothing else. */
final readonly class Observer
{
    /**
     * @param array<mixed>|null $reading   as App\ReadModel\ExperimentReading makes it; null where none was made yet
     * @param array<mixed>|null $inspected as App\ReadModel\InspectedPages makes it
     * @param array<mixed>|null $rehearsed as App\Rehearsals\Rehearser keeps it
     */
    public function observe(Experiment $experiment, ?array $reading, ?array $inspected, CarbonImmutable $now, ?array $rehearsed = null): Observations
    {
        // Figures of an older state, or none yet: what is declared is read from the experiment itself.
        if (($reading['revision'] ?? null) !== $experiment->revision) {
            $reading = [...$reading ?? [], ...ExperimentReading::declared($experiment->declared(), Definitions::periods($experiment), $experiment->revision)];
        }
        $end = self::moment($reading['end']);

        return new Observations(
            Stage::from($experiment->state)->hasStarted(),
            // What has stopped is judged as it stood then: nothing after that can make its evidence old.
            $end ?? $now,
            $experiment->started_at ?? $experiment->changed_at,
            $experiment->site->fresh_seconds,
            (float) $reading['share'],
            self::seen($reading['site_views'] ?? null),
            self::seen($reading['page_views'] ?? null),
            $reading['addresses'] ?? [],
            self::seen($reading['entered'] ?? null),
            isset($reading['srm']) ? self::ratio($reading['srm']) : null,
            $reading['can_alarm'] ?? false,
            $reading['crossed'] ?? 0,
            $reading['recomputed'] ?? 0,
            $reading['differing'] ?? 0,
            self::variants($reading['declared'], $reading['variants'] ?? []),
            self::goals($experiment, $reading['goals'] ?? []),
            self::seen($reading['rejected'] ?? null),
            $reading['common_reason'] ?? null,
            $reading['accepted'] ?? 0,
            self::inspected($inspected),
            $reading['eligible_known'],
            array_map(self::epoch(...), $reading['epochs'] ?? []),
            $reading['moved'] ?? 0,
            self::rehearsed($experiment, $rehearsed),
        );
    }

    /** @return array{array<int|string, array<string, mixed>>, array<int|string, array<string, mixed>>, array<int|string, array<string, mixed>>} what is known of all experiments of a site, of the pages that were inspected for them, and of their newest rehearsals, read at once */
    public static function readings(int $site): array
    {
        return [Readings::all($site, 'experiment'), Readings::all($site, 'inspected'), Readings::all($site, 'rehearsed')];
    }

    public static function moment(DateTimeInterface|string|null $time): ?CarbonImmutable
    {
        return $time === null ? null : CarbonImmutable::parse($time, 'UTC');
    }

    /**
     * @param non-empty-list<array<string, mixed>> $declared
     * @param list<array<string, mixed>>           $read
     *
     * @return non-empty-list<VariantSeen>
     */
    private static function variants(array $declared, array $read): array
    {
        $read = array_column($read, null, 'key');

        return array_map(static fn (array $variant): VariantSeen => new VariantSeen(
            $variant['key'],
            $variant['name'],
            (float) $variant['weight'],
            $variant['changes'],
            self::seen($read[$variant['key']]['exposures'] ?? null),
            self::seen($read[$variant['key']]['applied'] ?? null),
            self::seen($read[$variant['key']]['missed'] ?? null),
            self::seen($read[$variant['key']]['reverted'] ?? null),
            self::seen($read[$variant['key']]['failed'] ?? null),
        ), $declared);
    }

    /**
     * @param list<array<string, mixed>> $read
     *
     * @return list<GoalSeen>
     */
    private static function goals(Experiment $experiment, array $read): array
    {
        $read = array_column($read, null, 'goal_id');

        return array_values($experiment->goals->map(static fn (Goal $goal): GoalSeen => new GoalSeen(
            $goal->key,
            $goal->name,
            $goal->pivot->role,
            self::seen($read[$goal->id]['everyone'] ?? null),
            array_map(self::seen(...), $read[$goal->id]['variants'] ?? []),
            $read[$goal->id]['epochs'] ?? [],
        ))->all());
    }

    /** @param array<string, mixed> $read */
    private static function ratio(array $read): SampleRatioResult
    {
        return new SampleRatioResult($read['test'], $read['statistic'], $read['df'], $read['p'], $read['log_p'] ?? -INF, $read['alpha'], $read['observed'], $read['expected']);
    }

    /** @param array<string, mixed> $read */
    private static function epoch(array $read): EpochSeen
    {
        return new EpochSeen(self::moment($read['from']), $read['share'], $read['counts'], $read['weights'], isset($read['srm']) ? self::ratio($read['srm']) : null);
    }

    /** @param array<string, mixed>|null $read */
    private static function rehearsed(Experiment $experiment, ?array $read): ?Rehearsed
    {
        return $read === null ? null : new Rehearsed(self::moment($read['at']) ?? CarbonImmutable::createFromTimestampUTC(0), $read['links'], About::since($read, $experiment));
    }

    /** @param array<string, mixed>|null $read */
    private static function inspected(?array $read): PagesInspected
    {
        return $read === null ? new PagesInspected() : new PagesInspected($read['known'], $read['inspected'], $read['unreachable'], $read['faulty'], $read['example'], self::moment($read['last']));
    }

    /** @param array<string, mixed>|null $read */
    private static function seen(?array $read): Seen
    {
        return $read === null ? new Seen() : new Seen($read['count'], $read['visitors'], self::moment($read['last']));
    }
}
