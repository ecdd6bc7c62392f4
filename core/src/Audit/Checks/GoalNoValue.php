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

/** Hits of a goal that should have a value, and have none that can be read. */
final class GoalNoValue implements Check
{
    private const FEWEST = 3;

    /** Of the hits (common practice, no source). */
    private const NOTED = 0.01;
    private const SPOILS = 0.03;

    public function code(): AuditCode
    {
        return AuditCode::GoalNoValue;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        if (array_filter($setup->goals, static fn ($goal): bool => $goal->valueProp !== null) === []) {
            throw new NotRun('No goal takes its value from a property.');
        }
        $found = [];
        foreach ($setup->goals as $place => $goal) {
            $sum = $evidence->tally->goals[$place];
            $without = $sum->worthless->total();
            $part = $without / max(1, $sum->hits->total());
            if ($goal->valueProp === null || $without < self::FEWEST || $part < self::NOTED) {
                continue;
            }
            $where = Culprit::among($sum->worthless, $sum->hits, $setup);
            $found[] = $where->finding(
                AuditCode::GoalNoValue,
                $part >= self::SPOILS ? Severity::Warning : Severity::Note,
                Told::count($without, 'hit')." of {$goal->key} (".Told::percent($part).')'.$where->told($setup->settings)." have no value that can be read in props.{$goal->valueProp}: means per visitor are too low by them.",
                goal: $goal->key,
                numbers: ['without' => $without, 'hits' => $sum->hits->total(), 'part' => round($part, 6)],
                causes: ['The value is not there yet when the event is sent.', 'It stands under another name, or is a text with a currency or a decimal comma.'],
                next: ['Look at one of these events, and mend where the value is taken from.'],
                weight: $part,
            );
        }

        return $found;
    }
}
