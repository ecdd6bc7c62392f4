<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Shapes\EventCulprit;
use Pellix\Core\Audit\Shapes\Where;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Events whose id came before: copies, or ids that are not unique. */
final class EventDuplicate implements Check
{
    private const FEWEST = 20;

    /** Of the events: beacons are sent again where no answer came (common practice, no source). */
    private const NOTED = 0.02;
    private const SPOILS = 0.1;

    /** Ids that several visitors share are no copies. */
    private const SHARED = 0.001;

    public function code(): AuditCode
    {
        return AuditCode::EventDuplicate;
    }

    public function look(Evidence $evidence): array
    {
        $found = [];
        $shared = $evidence->shared / max(1, $evidence->read);
        if ($evidence->shared >= self::FEWEST && $shared >= self::SHARED) {
            $found[] = new Finding(
                AuditCode::EventDuplicate,
                $shared >= self::NOTED ? Severity::Warning : Severity::Note,
                Told::count($evidence->shared, 'id').' belong to events of several visitors: whatever takes each id once loses what came later. This audit keeps them apart.',
                numbers: ['shared_ids' => $evidence->shared, 'events' => $evidence->read, 'part' => round($shared, 6)],
                causes: ['Ids are counted for each visitor, each day or each server, and not unique.'],
                next: ['Make ids that are unique by themselves, such as UUIDs (RFC 9562).'],
                weight: $shared,
            );
        }
        $part = $evidence->copies / max(1, $evidence->read);
        $where = $evidence->copies < self::FEWEST ? new Where() : EventCulprit::of($evidence->tally->hygiene->copies, $evidence);
        if ($evidence->copies < self::FEWEST || ($part < self::NOTED && ($where->rate < 5 * self::NOTED || $part < 0.005))) {
            return $found;
        }
        $found[] = $where->finding(
            AuditCode::EventDuplicate,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($evidence->copies, 'event').' ('.Told::percent($part).') came again with the same id'.$where->told($evidence->setup->settings).'. Each is counted once here; whatever counts lines counts them twice.',
            numbers: ['copies' => $evidence->copies, 'events' => $evidence->read, 'part' => round($part, 6)],
            causes: ['An export that overlaps with the one before.', 'Beacons that are sent again though they had arrived.'],
            next: ['Count each id once.'],
            weight: $part,
        );

        return $found;
    }
}
