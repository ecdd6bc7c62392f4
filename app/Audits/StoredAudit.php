<?php

namespace App\Audits;

use App\Models\Experiment;
use Carbon\CarbonImmutable;
use Closure;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Incremental\Checkpoint;
use Pellix\Core\Audit\Incremental\StaleCheckpoint;
use Pellix\Core\Audit\Reading\LogAudit;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Rows\Rows;
use Pellix\Core\Audit\Rows\Sought;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Reconcile\Ours;

/** Audits an experiment on the stored events of its site. */
final class StoredAudit
{
    /** Days before the start that tell the rhythm of the site, and who has been there before. */
    private const DAYS_BEFORE = 14;

    private const HOURS_AFTER = 24;

    public static function of(Experiment $experiment, CarbonImmutable $now): Report
    {
        return Report::of(self::evidence($experiment, $now, AuditSetup::read(AuditSetup::ofExperiment($experiment, $now)), static fn (int $events) => null));
    }

    /** @param Closure(int): mixed $progress is told now and then how many events were read, about */
    public static function evidence(Experiment $experiment, CarbonImmutable $now, Setup $setup, Closure $progress): Evidence
    {
        $log = new StoredLog($experiment->site, ...self::stretch($experiment, $now));
        // What is open belongs to this process; the one that is forked must not close it.
        DB::purge();
        if ($setup->experiment->unit === 'user') {
            return LogAudit::of([self::rows($log)], $setup, $progress);
        }

        return LogAudit::ofVisitors($log->visitors(...), $setup, $progress);
    }

    /**
     * The same of an experiment that is looked at every day: only visitors are read of whom something has arrived since it was looked at
     * last, where it can go on from there.
     *
     * @param CarbonImmutable $until    up to when it looks: a little ago, so that what has arrived by then is stored
     * @param bool            $isWhole  whether nothing is left out, whatever the exclusions
     * @param string          $settings SHA-256 of all that it goes by
     * @param Closure(int): mixed $progress is told now and then how many events were read, about
     *
     * @return array{Evidence, int, CarbonImmutable|null} how many events were read, and from when on; null where everything was
     */
    public static function goOn(Experiment $experiment, CarbonImmutable $until, Setup $setup, bool $isWhole, string $settings, Closure $progress): array
    {
        [$from, $to] = self::stretch($experiment, $until);
        $begun = CarbonImmutable::now('UTC');
        $found = Checkpoints::find($experiment, $isWhole, $settings, $until);
        $read = null;
        if ($found !== null) {
            [$checkpoint, $since, $wholeAt] = $found;
            try {
                $read = $checkpoint->goOn((new StoredChanges($experiment->site, $from, $since, $to))->visitors(), $setup, $progress);
            } catch (StaleCheckpoint) {
                // It is read as if there were none.
            }
        }
        if ($read === null) {
            $log = new StoredLog($experiment->site, $from, $to, $until);
            DB::purge();
            $checkpoint = Checkpoint::ofVisitors($log->visitors(...), $setup, $progress);
            [$since, $wholeAt] = [null, $until];
        }
        Checkpoints::keep($experiment, $isWhole, $settings, $checkpoint, $until, $wholeAt, $begun);
        $evidence = $checkpoint->evidence($setup);

        return [$evidence, $read ?? $evidence->lines, $since];
    }

    /** @param int|null $goal place of the goal whose hits are counted; null for visitors */
    public static function ours(Experiment $experiment, CarbonImmutable $now, Setup $setup, ?int $goal): Ours
    {
        $log = new StoredLog($experiment->site, ...self::stretch($experiment, $now));
        DB::purge();

        return $setup->experiment->unit === 'user' ? Ours::of([self::rows($log)], $setup, static fn (int $lines) => null, $goal) : Ours::ofVisitors($log->visitors(...), $setup, $goal);
    }

    /** Who is behind a number of an audit. */
    public static function behind(Experiment $experiment, CarbonImmutable $now, Setup $setup, Sought $sought): Rows
    {
        $log = new StoredLog($experiment->site, ...self::stretch($experiment, $now));

        return $setup->experiment->unit === 'user' ? Rows::ofLog([self::rows($log)], $setup, $sought, static fn (int $lines) => null) : Rows::ofVisitors($log->visitors(...), $setup, $sought);
    }

    /** @return array{CarbonImmutable, CarbonImmutable} from when to when events are looked at */
    public static function stretch(Experiment $experiment, CarbonImmutable $now): array
    {
        $end = $experiment->ended_at === null ? $now : $experiment->ended_at->addHours(self::HOURS_AFTER)->min($now);

        return [($experiment->started_at ?? $now)->subDays(self::DAYS_BEFORE), $end];
    }

    /** @return \Generator<int, array<string, mixed>> event by event: those of a user are put together from several visitors */
    private static function rows(StoredLog $log): \Generator
    {
        $number = 0;
        foreach ([0, 1] as $half) {
            foreach ($log->visitors($half) as $events) {
                foreach ($events as $event) {
                    yield ++$number => $event;
                }
            }
        }
    }
}
