<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

use Pellix\Core\Audit\Shapes\RatioFault;
use Pellix\Core\Wiring\Findings\Severity;

/**
 * What somebody is to be told of at once by audits that are made again every day. A test that is right once in a thousand is wrong
 * before long when it is made daily, so that of the split only what is valid at any time counts; what loses data at
 * this moment is told as well.
 */
final class Watch
{
    /** What spoils the run while it goes on, if it has begun lately. */
    private const ACUTE = [AuditCode::GapSilence, AuditCode::GapDrop, AuditCode::GapPage, AuditCode::GapStale, AuditCode::ExposureMissing, AuditCode::GoalDropped, AuditCode::GoalSilent];

    /** So long before the end of the log it may have begun, in milliseconds; an older one was told, or was not worth it. */
    private const LATELY = 3 * 86_400_000;

    /** @return list<Alarm> */
    public static function alarms(Report $report): array
    {
        $evidence = $report->evidence;
        $isOff = ! $evidence->isTable && $evidence->exposed() > 0 && ($evidence->ratio->sequential()['crossed'] !== null || $evidence->ratio->watch()->crossed !== null);
        $last = $evidence->period()[1] ?? 0;
        $alarms = [];
        $isToldOfSplit = false;
        foreach ($report->findings as $finding) {
            $areas = self::areas($finding);
            $isSplit = in_array('srm', $areas, true);
            $isTold = match (true) {
                $isSplit => $isOff && ! $isToldOfSplit,
                $finding->gravest() === Severity::Blocker => true,
                default => in_array($finding->code, self::ACUTE, true) && $finding->severity !== Severity::Note && $finding->until === null && $finding->since !== null && $finding->since >= $last - self::LATELY,
            };
            if ($isTold) {
                $isToldOfSplit = $isToldOfSplit || $isSplit;
                $alarms[] = new Alarm($finding, $areas);
            }
        }
        if ($isOff && ! $isToldOfSplit) {
            array_unshift($alarms, new Alarm(self::split($evidence), ['srm']));
        }

        return $alarms;
    }

    /**
     * The areas that are still in trouble: of what was told, what is not among them is over.
     *
     * @return list<string>
     */
    public static function present(Report $report): array
    {
        $present = [];
        foreach ($report->findings as $finding) {
            $finding->gravest() === Severity::Note || ($finding->until !== null && ! in_array('srm', self::areas($finding), true)) || array_push($present, ...self::areas($finding));
        }

        return array_values(array_unique($present));
    }

    /**
     * What a finding is about, so coarse that the same trouble has the same name from day to day, whichever finding leads it.
     *
     * @return list<string>
     */
    private static function areas(Finding $finding): array
    {
        $area = (string) strtok($finding->code->value, '.');
        $areas = [$area === 'goal' ? "goal {$finding->goal}" : $area];
        foreach ($finding->consequences as $one) {
            array_push($areas, ...self::areas($one));
        }

        return array_values(array_unique($areas));
    }

    /** Where the watch knows before any check of the whole run does. */
    private static function split(Evidence $evidence): Finding
    {
        $setup = $evidence->setup;
        $watch = $evidence->ratio->watch();
        // Where only the test of the whole run tells, it is off from the beginning.
        $since = $watch->since === null ? null : 1000 * (new \DateTimeImmutable($watch->since, $setup->settings->zone))->getTimestamp();
        $log = max($watch->log, $evidence->ratio->sequential()['log']);
        [$observed, $expected] = RatioFault::counts($evidence->tally->split->exposed->during($since, null), '', $setup);
        $missing = RatioFault::missing($observed, $expected);
        arsort($missing);
        $variant = (int) array_key_first($missing);
        $part = $missing[$variant] / max(1.0, $observed[$variant] + $missing[$variant]);

        return new Finding(
            AuditCode::SrmOnset,
            Severity::Blocker,
            "Variant {$setup->variants[$variant]} lost ".Told::percent($part).' of its visitors'.($since === null ? '' : ' since '.$setup->settings->told($since)).': '.Told::count((int) round($missing[$variant]), 'visitor').' missing, as the watch over every day tells (anytime-valid '.Told::p(-$log).').',
            $setup->variants[$variant],
            since: $since,
            numbers: ['observed' => $observed, 'expected' => array_map(static fn (float $mean): float => round($mean, 2), $expected), 'missing' => round($missing[$variant], 1), 'part' => round($part, 6), 'log_bayes_factor' => is_finite($log) ? $log : null],
            causes: ['What was published, or changed on the site, on that day.'],
            next: ['Rehearse variant '.$setup->variants[$variant].'.', 'See what was published on that day.'],
            weight: $part,
        );
    }
}
