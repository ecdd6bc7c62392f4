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

/** Whether each visitor was recorded in the variant that the assignment gives it, now or in an earlier epoch. */
final class AssignMismatch implements Check
{
    /** Of the visitors: more spoils the data (common practice, no source). */
    private const BLOCKS = 0.005;

    public function code(): AuditCode
    {
        return AuditCode::AssignMismatch;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        if (! $setup->settings->isRecomputed) {
            throw new NotRun('The experiment file says that variants were assigned elsewhere, so they cannot be worked out again.');
        }
        $evidence->needExposed();
        $sum = $evidence->tally->assignment;
        $wrong = $sum->wrong->total();
        if ($wrong === 0) {
            return [];
        }
        $all = $sum->exposed;
        $part = $wrong / $all;
        $where = Culprit::among($sum->wrong, $evidence->tally->split->exposed, $setup);
        $weights = $setup->weights(0);
        $isAnother = $part > 0.5 * (1 - max([0.0, ...$weights]) / max(1e-9, array_sum($weights)));

        return [$where->finding(
            AuditCode::AssignMismatch,
            $part > self::BLOCKS ? Severity::Blocker : Severity::Warning,
            Told::count($wrong, 'visitor').' ('.Told::percent($part).') '.($wrong === 1 ? 'was' : 'were').' recorded in another variant than the assignment gives them'.$where->told($setup->settings).'.',
            numbers: ['visitors' => $wrong, 'exposed' => $all, 'part' => round($part, 6)],
            causes: $isAnother
                ? ['The salt of the experiment file is not the one that visitors were assigned with, or they were assigned by something else.']
                : ['A cached or older file assigns with other weights or another salt.', 'The variant is decided in a second place, on a server or in a copy of the snippet.', 'The exposure names the variant of another experiment or visitor.'],
            next: $isAnother
                ? ['Compare the salt; where the assignment was not Pellix’s, say so in the experiment file: "audit": {"assignment": "elsewhere"}.']
                : ['Work out single visitors with `bin/pellix assign`, and look at their events.', 'Do not decide on this data before it is known which variant they saw.'],
            weight: $part,
        )];
    }
}
