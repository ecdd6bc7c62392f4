<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Shapes\EventCulprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** The same event of the same visitor on the same page again within half a second, under another id. */
final class EventDouble implements Check
{
    private const FEWEST = 20;

    /** Of the events of that name (common practice, no source). */
    private const NOTED = 0.02;
    private const SPOILS = 0.05;

    public function code(): AuditCode
    {
        return AuditCode::EventDouble;
    }

    public function look(Evidence $evidence): array
    {
        $twice = $evidence->tally->hygiene->twice;
        $volume = $evidence->tally->volume;
        $most = 0.0;
        $name = '';
        foreach ($twice->keys() as $key) {
            [$dimension, $value] = Keys::parts($key);
            if ($dimension === 'event' && $twice->total($key) >= self::FEWEST) {
                $part = $twice->total($key) / max(1, $volume->total($key));
                [$most, $name] = $part > $most ? [$part, $value] : [$most, $name];
            }
        }
        if ($name === '') {
            return [];
        }
        $where = EventCulprit::of($twice, $evidence);
        if ($most < self::NOTED && ($where->rate < 2 * self::SPOILS || $most < 0.005)) {
            return [];
        }
        $number = $twice->total();

        return [$where->finding(
            AuditCode::EventDouble,
            max($most, $where->rate) >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($number, 'event').' fired twice within half a second'.$where->told($evidence->setup->settings).', most of them '.$name.' ('.Told::percent($most).' of these): whatever counts them counts too many.',
            event: $where->event ?? $name,
            numbers: ['events' => $number, 'event' => $name, 'part' => round($most, 6)],
            causes: ['Two tags send the same event, or the snippet stands on the page twice.', 'A listener is bound again each time that the page is drawn anew.'],
            next: ['Inspect the page for a second snippet or tag.', 'Rehearse it: each event has to arrive once.'],
            weight: $most,
        )];
    }
}
