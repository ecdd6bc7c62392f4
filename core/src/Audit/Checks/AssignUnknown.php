<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Exposures that name a variant which the experiment has not. */
final class AssignUnknown implements Check
{
    /** Of those who were exposed (common practice, no source). */
    private const SPOILS = 0.002;

    public function code(): AuditCode
    {
        return AuditCode::AssignUnknown;
    }

    public function look(Evidence $evidence): array
    {
        $sum = $evidence->tally->assignment;
        $units = $sum->strange->total();
        if ($units === 0) {
            return [];
        }
        $part = $units / ($units + $evidence->exposed());
        $names = $sum->unknown;
        arsort($names);
        $told = array_map(static fn (string|int $name): string => $name === '' ? '(none)' : (string) $name, array_slice(array_keys($names), 0, 5));
        $where = Culprit::of($sum->strange, static fn (string $key): int => $evidence->tally->split->exposed->total($key) + $sum->strange->total($key), static fn (string $key): array => $evidence->tally->split->exposed->hours($key), null, $evidence->setup);

        return [new Finding(
            AuditCode::AssignUnknown,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($units, $evidence->setup->experiment->unit).' ('.Told::percent($part).') '.($units === 1 ? 'was' : 'were').' exposed to a variant that the experiment does not declare'.$where->told($evidence->setup->settings).': '.implode(', ', $told).'. They count for none.',
            count($names) === 1 && $told[0] !== '(none)' ? $told[0] : null,
            page: $where->page,
            segment: $where->segment,
            since: $where->since,
            until: $where->until,
            numbers: ['units' => $units, 'part' => round($part, 6), 'variants' => array_slice($names, 0, 20, true)],
            causes: ['A misspelt or renamed variant in the code that sends the exposure.', 'An older file that knows a variant which was taken out.'],
            next: ['Search the site’s code for this key.', 'Map it to the variant that was meant, and audit again.'],
            weight: $part,
        )];
    }
}
