<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Visitors whose clock is off: their events seem to be received before they happened, or all of them equally late. */
final class GapClock implements Check
{
    private const FEWEST = 10;

    /** Of the visitors (common practice, no source). */
    private const NOTED = 0.02;
    private const SPOILS = 0.05;

    public function code(): AuditCode
    {
        return AuditCode::GapClock;
    }

    public function look(Evidence $evidence): array
    {
        $sum = $evidence->tally->delays;
        if ($sum->known === 0) {
            throw new NotRun('No event says when it was received.');
        }
        $off = $sum->off->total();
        $part = $off / max(1, $sum->clocks->total());
        if ($off < self::FEWEST) {
            return [];
        }
        $where = Culprit::among($sum->off, $sum->clocks, $evidence->setup);
        $isLocal = $where->segment !== null || $where->since !== null || $where->until !== null;
        if ($part < self::NOTED && (! $isLocal || $where->rate < self::NOTED || $part < 0.003)) {
            return [];
        }
        $offsets = $sum->offsets;
        ksort($offsets);
        $so = 0;
        $median = 0;
        foreach ($offsets as $minutes => $units) {
            $so += $units;
            if (2 * $so >= $off) {
                $median = $minutes;
                break;
            }
        }

        return [$where->finding(
            AuditCode::GapClock,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            'The clocks of '.Told::count($off, 'visitor').' ('.Told::percent($part).') are off'.$where->told($evidence->setup->settings).', most by about '.Told::duration(60 * abs($median)).' '.($median >= 0 ? 'ahead' : 'behind').': what they did lies in the wrong hour, and its order may be wrong.',
            numbers: ['visitors' => $off, 'of' => $sum->clocks->total(), 'part' => round($part, 6), 'median_minutes' => $median, 'minutes' => array_slice($offsets, 0, 50, true)],
            causes: ['The time is that of the visitor’s device, and is not corrected.', 'A server that writes local time as if it were UTC: the difference is a whole number of hours.'],
            next: ['Correct times by the difference between sending and receipt.', 'Audit again with the time of receipt.'],
            weight: $part,
        )];
    }
}
