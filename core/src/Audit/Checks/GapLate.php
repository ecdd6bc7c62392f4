<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\EventCulprit;
use Pellix\Core\Audit\Sums\DelaySum;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Events that were received long after they happened. */
final class GapLate implements Check
{
    /** Of the events: some devices are offline for a while (common practice, no source). */
    private const NOTED = 0.05;
    private const SPOILS = 0.15;

    public function code(): AuditCode
    {
        return AuditCode::GapLate;
    }

    public function look(Evidence $evidence): array
    {
        $sum = $evidence->tally->delays;
        if ($sum->known === 0) {
            throw new NotRun('No event says when it was received.');
        }
        $late = $sum->late->total();
        $part = $late / $sum->known;
        $where = $late < 50 ? null : EventCulprit::of($sum->late, $evidence);
        $most = max($part, $where === null || ($where->since === null && $where->until === null && $where->segment === null && $where->event === null && $where->page === null) ? 0.0 : $where->rate);
        if ($where === null || $most < self::NOTED || $part < 0.005) {
            return [];
        }

        return [$where->finding(
            AuditCode::GapLate,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($late, 'event').' ('.Told::percent($part).') were received more than '.Told::duration(DelaySum::LATE / 1000).' after they happened'.$where->told($evidence->setup->settings).': half within '.Told::duration($sum->quantile(0.5)).', 95 % within '.Told::duration($sum->quantile(0.95)).', 99 % within '.Told::duration($sum->quantile(0.99)).'.',
            numbers: ['late' => $late, 'events' => $sum->known, 'part' => round($part, 6), 'seconds' => ['0.5' => $sum->quantile(0.5), '0.95' => $sum->quantile(0.95), '0.99' => $sum->quantile(0.99)]],
            causes: ['A queue between the site and the collector, or a job that uploads now and then.', 'Times of two clocks, or in two time zones.'],
            next: ['Wait for so long before the last day is believed.', 'Compare the clocks of those that send and those that receive.'],
            weight: $part,
        )];
    }
}
