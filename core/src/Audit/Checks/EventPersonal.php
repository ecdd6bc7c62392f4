<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Shapes\EventCulprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Addresses of e-mail and telephone numbers in addresses and properties of events. */
final class EventPersonal implements Check
{
    public function code(): AuditCode
    {
        return AuditCode::EventPersonal;
    }

    public function look(Evidence $evidence): array
    {
        $personal = $evidence->tally->hygiene->personal;
        $number = $personal->total();
        if ($number === 0) {
            return [];
        }
        $where = EventCulprit::of($personal, $evidence);
        $pages = $events = [];
        foreach ($personal->keys() as $key) {
            [$dimension, $value] = Keys::parts($key);
            $dimension === 'page' && $pages[$value] = $personal->total($key);
            $dimension === 'event' && $events[$value] = $personal->total($key);
        }
        arsort($pages);
        arsort($events);

        return [new Finding(
            AuditCode::EventPersonal,
            Severity::Note,
            Told::count($number, 'event').' '.($number === 1 ? 'has' : 'have').' an e-mail address or a telephone number in '.($number === 1 ? 'its' : 'their').' address or properties'.$where->told($evidence->setup->settings).'. What they say is not repeated here.',
            $where->variant,
            event: $where->event,
            page: $where->page ?? (count($pages) === 1 ? (string) array_key_first($pages) : null),
            segment: $where->segment,
            since: $where->since,
            until: $where->until,
            numbers: ['events' => $number, 'pages' => array_slice($pages, 0, 10, true), 'names' => array_slice($events, 0, 10, true)],
            causes: ['A form that is sent by GET, or a link in a mail, puts it into the address.', 'A property holds what somebody typed.'],
            next: ['Take it out where the event is made; have what was stored erased.'],
            weight: $number / max(1, $evidence->events()),
        )];
    }
}
