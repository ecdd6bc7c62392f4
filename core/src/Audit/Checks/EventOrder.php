<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Exposures whose time lies after what followed from them: by the order of receipt, or a change that was applied before. */
final class EventOrder implements Check
{
    private const FEWEST = 10;

    /** Of the exposed (common practice, no source). */
    private const NOTED = 0.01;
    private const SPOILS = 0.05;

    public function code(): AuditCode
    {
        return AuditCode::EventOrder;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed();
        $disorder = $evidence->tally->hygiene->disorder;
        $all = $evidence->tally->split->exposed;
        $units = $disorder->total();
        $part = $units / max(1, $all->total());
        if ($units < self::FEWEST || $part < self::NOTED) {
            return [];
        }
        $where = Culprit::among($disorder, $all, $evidence->setup);

        return [$where->finding(
            AuditCode::EventOrder,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            'The exposures of '.Told::count($units, 'visitor').' ('.Told::percent($part).') lie after what followed from them'.$where->told($evidence->setup->settings).': hits that came between do not count.',
            numbers: ['visitors' => $units, 'exposed' => $all->total(), 'part' => round($part, 6)],
            causes: ['Exposures and other events get their time from different clocks.', 'The time is when the event was sent, not when it happened.'],
            next: ['Give all events of a page their time from one clock.'],
            weight: $part,
        )];
    }
}
