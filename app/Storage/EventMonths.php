<?php

namespace App\Storage;

use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;

/** The months that events are kept in: made ahead of time, and dropped whole. */
final class EventMonths
{
    /** So many months after the present one have a partition of their own. */
    private const AHEAD = 2;

    /**
     * Gives each month from the first of `$from` on a partition of its own. Cheap while `later`, from which they are split off, is empty.
     *
     * @return list<string> the months that are new, as `2026-11`
     */
    public function prepare(CarbonImmutable $from, CarbonImmutable $now): array
    {
        $known = $this->all();
        $new = [];
        for ($month = $from->startOfMonth(); $month <= $now->startOfMonth()->addMonths(self::AHEAD); $month = $month->addMonth()) {
            $name = $month->format('Y-m');
            if (in_array($name, $known, true)) {
                continue;
            }
            // Split off from the next one that there is: what lies there already finds its place.
            $next = array_values(array_filter($known, static fn (string $one): bool => $one > $name))[0] ?? null;
            DB::statement(sprintf(
                'alter table events reorganize partition %1$s into (partition %2$s values less than (\'%3$s\'), partition %1$s values less than (%4$s))',
                $next === null ? 'later' : self::partition($next),
                self::partition($name),
                $month->addMonth()->format('Y-m-d'),
                $next === null ? 'maxvalue' : "'".CarbonImmutable::parse("{$next}-01", 'UTC')->addMonth()->format('Y-m-d')."'",
            ));
            $known[] = $new[] = $name;
            sort($known);
        }

        return $new;
    }

    /** @return list<string> as `2026-11`, in order */
    public function all(): array
    {
        return DB::table('information_schema.partitions')->where('table_schema', DB::connection()->getDatabaseName())->where('table_name', 'events')
            ->where('partition_name', 'like', 'm%')->orderBy('partition_ordinal_position')->pluck('partition_name')
            ->map(static fn (string $name): string => str_replace('_', '-', substr($name, 1)))->all();
    }

    /**
     * The partitions that events of a stretch of time lie in. Each holds what is older than its own end, so the first of them holds all
     * that came before it, too.
     *
     * @return list<string> names of partitions
     */
    public function partitions(CarbonImmutable $from, CarbonImmutable $to): array
    {
        $found = [];
        $before = '';
        foreach ($this->all() as $month) {
            if ($month >= $from->format('Y-m') && $before < $to->format('Y-m')) {
                $found[] = self::partition($month);
            }
            $before = $month;
        }

        return $before < $to->format('Y-m') ? [...$found, 'later'] : $found;
    }

    private static function partition(string $month): string
    {
        return 'm'.str_replace('-', '_', $month);
    }

    /** Drops a month with all its events, at once. */
    public function drop(string $month): void
    {
        DB::statement('alter table events drop partition '.self::partition($month));
    }
}
