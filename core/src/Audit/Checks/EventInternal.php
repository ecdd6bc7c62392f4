<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Own people among the visitors: by the rule or the visitor ids of the experiment file, or by `props.internal`. */
final class EventInternal implements Check
{
    private const FEWEST = 5;

    /** Of the exposed (common practice, no source). */
    private const NOTED = 0.005;
    private const SPOILS = 0.03;

    public function code(): AuditCode
    {
        return AuditCode::EventInternal;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        $all = $evidence->tally->hygiene->insiders->total();
        if ($all === 0 && $setup->settings->internal === null && $setup->settings->insiders === []) {
            throw new NotRun('Neither the experiment file ("audit": {"internal": RULE} or "internal_visitors") nor any event (props.internal) tells who is one of one’s own.');
        }
        $exposed = $evidence->tally->split->internal;
        $part = $exposed / max(1, $evidence->exposed());
        if ($exposed < self::FEWEST || $part < self::NOTED) {
            return [];
        }
        $by = $evidence->tally->hygiene->insiders->byVariant(count($setup->variants));

        return [new Finding(
            AuditCode::EventInternal,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($exposed, 'visitor').' ('.Told::percent($part).' of the exposed) are one’s own people, who do not behave as visitors do.',
            numbers: ['exposed' => $exposed, 'part' => round($part, 6), 'by_variant' => array_combine($setup->variants, $by), 'in_all' => $all],
            causes: ['Office, agency and tests are not told apart before events are sent.'],
            next: ['Leave them out of all variants, by a rule with a date and a name.'],
            weight: $part,
        )];
    }
}
