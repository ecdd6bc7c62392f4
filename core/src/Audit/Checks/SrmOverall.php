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

/** Whether the visitors split as the weights promised, each epoch against its own, and all of them together. */
final class SrmOverall implements Check
{
    public function code(): AuditCode
    {
        return AuditCode::SrmOverall;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed();
        $joined = $evidence->ratio->joined() ?? throw new NotRun('No epoch has two variants that take anybody in.');
        if (! $evidence->ratio->isOff()) {
            return [];
        }
        $fault = $evidence->ratio->fault();
        if ($fault === null) {
            return [];
        }
        $setup = $evidence->setup;
        $variant = $setup->variants[$fault->variant];
        $since = $fault->keys === [] ? $fault->since : null;
        $words = implode(', ', array_map(static fn (string $key, int $is, float $was): string => "{$key} ".Told::count($is, 'visitor').' of '.number_format($was, 0, '.', ' ').' expected', $setup->variants, $joined->observed, $joined->expected));

        return [new Finding(
            AuditCode::SrmOverall,
            Severity::Blocker,
            ($fault->missing >= 0
                ? "Variant {$variant} lost ".Told::percent($fault->part).' of its visitors'
                : "Variant {$variant} has ".Told::count(-$fault->missing, 'visitor').' too many')
                .($since === null ? '' : " since {$setup->settings->told($since)}").": the split is not the one that was promised ({$words}; ".Told::p(min($joined->logP, $evidence->ratio->worstEpoch())).').',
            $variant,
            since: $since,
            until: $fault->keys === [] ? $fault->until : null,
            numbers: [...$joined->toArray(), 'missing' => $fault->missing, 'part' => round($fault->part, 6)],
            causes: ['Visitors of one variant are lost before their exposure is received: a redirect, an error, a slow page.', 'The assignment is not the declared one.', 'Events of one variant are filtered or lost on the way.'],
            next: ['Look at the stages: at which link does the ratio first break?', 'Rehearse each variant in a real browser.', 'Do not decide on this data.'],
            weight: abs($fault->part),
        )];
    }
}
