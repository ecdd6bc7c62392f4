<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Shapes\EventCulprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Events that the tracking plan does not know, or not so. */
final class EventOffPlan implements Check
{
    private const FEWEST = 5;

    /** Of the events of that name (common practice, no source). */
    private const NOTED = 0.01;

    public function code(): AuditCode
    {
        return AuditCode::EventOffPlan;
    }

    public function look(Evidence $evidence): array
    {
        if ($evidence->setup->plan === null) {
            throw new NotRun('No tracking plan was given (--plan=FILE).');
        }
        $off = $evidence->tally->hygiene->offPlan;
        $names = [];
        foreach ($off->keys() as $key) {
            [$dimension, $value] = Keys::parts($key);
            $part = $off->total($key) / max(1, $evidence->tally->volume->total($key));
            if ($dimension === 'event' && $off->total($key) >= self::FEWEST && $part >= self::NOTED) {
                $names[$value] = [$off->total($key), $part];
            }
        }
        if ($names === []) {
            return [];
        }
        arsort($names);
        $where = EventCulprit::of($off, $evidence);
        $name = (string) array_key_first($names);

        return [$where->finding(
            AuditCode::EventOffPlan,
            Severity::Note,
            Told::count($off->total(), 'event').' '.($off->total() === 1 ? 'is' : 'are').' not as the tracking plan says'.$where->told($evidence->setup->settings).': '
                .implode(', ', array_map(static fn (string|int $name, array $of): string => "{$name} ".Told::percent($of[1]), array_keys(array_slice($names, 0, 5, true)), array_slice($names, 0, 5))).'.',
            event: $where->event ?? $name,
            numbers: ['events' => $off->total(), 'names' => array_map(static fn (array $of): array => ['events' => $of[0], 'part' => round($of[1], 6)], array_slice($names, 0, 20, true))],
            causes: ['The site was changed and the plan was not, or the other way round.'],
            next: ['Hold single events against the plan, and change one of both.'],
            weight: $off->total() / max(1, $evidence->events()),
        )];
    }
}
