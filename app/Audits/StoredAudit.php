<?php

namespace App\Audits;

use App\Models\Experiment;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Reading\LogAudit;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Settings;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\TrackingPlan;

/** Audits an experiment on the stored events of its site. */
final class StoredAudit
{
    /** Days before the start that tell the rhythm of the site, and who has been there before. */
    private const DAYS_BEFORE = 14;

    private const HOURS_AFTER = 24;

    public static function of(Experiment $experiment, CarbonImmutable $now): Report
    {
        return Report::of(self::evidence($experiment, $now));
    }

    public static function evidence(Experiment $experiment, CarbonImmutable $now): Evidence
    {
        $site = $experiment->site;
        $start = $experiment->started_at ?? $now;
        $end = $experiment->ended_at === null ? $now : $experiment->ended_at->addHours(self::HOURS_AFTER)->min($now);
        $plan = [];
        foreach ($site->eventDefinitions()->get() as $event) {
            $plan[$event->name] = $event->schema;
        }
        $setup = new Setup(
            $experiment->declared(),
            null,
            $plan === [] ? null : TrackingPlan::of($plan),
            Settings::read(['time_zone' => $site->time_zone, 'hosts' => $site->hosts, 'session_minutes' => $site->session_minutes]),
            (float) $site->srm_alpha,
            // Of an experiment that has ended nobody expects more.
            $experiment->ended_at === null ? 1000 * $now->getTimestamp() : null,
            $experiment->ran(),
        );
        $log = new StoredLog($site, $start->subDays(self::DAYS_BEFORE), $end);
        // What is open belongs to this process; the one that is forked must not close it.
        DB::purge();
        if ($setup->experiment->unit === 'user') {
            return LogAudit::of([self::rows($log)], $setup, static fn (int $lines) => null);
        }

        return LogAudit::ofVisitors($log->visitors(...), $setup);
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
