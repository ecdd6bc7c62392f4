<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\RatioFault;
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
        [$missing, $part, $since, $until] = [$fault->missing, $fault->part, $fault->since, $fault->until];
        if ($fault->keys !== []) {
            // What that segment lost is told of it; here, what it comes to among all.
            $missing = (int) round(RatioFault::missing($joined->observed, $joined->expected)[$fault->variant]);
            $part = $missing / max(1, $joined->observed[$fault->variant] + $missing);
            [$since, $until] = [null, null];
        }
        $words = implode(', ', array_map(static fn (string $key, int $is, float $was): string => "{$key} ".Told::count($is, 'visitor').' of '.number_format($was, 0, '.', ' ').' expected', $setup->variants, $joined->observed, $joined->expected));

        return [new Finding(
            AuditCode::SrmOverall,
            Severity::Blocker,
            ($missing >= 0
                ? "Variant {$variant} lost ".Told::percent($part).' of its visitors'
                : "Variant {$variant} has ".Told::count(-$missing, 'visitor').' too many')
                .($since === null ? '' : " since {$setup->settings->told($since)}").": the split is not the one that was promised ({$words}; ".Told::p(min($joined->logP, $evidence->ratio->worstEpoch())).').',
            $variant,
            since: $since,
            until: $until,
            numbers: [...$joined->toArray(), 'missing' => $missing, 'part' => round($part, 6)],
            causes: ['Visitors of one variant are lost before their exposure is received: a redirect, an error, a slow page.', 'The assignment is not the declared one.', 'Events of one variant are filtered or lost on the way.'],
            next: ['Look at the stages: at which link does the ratio first break?', 'Rehearse each variant in a real browser.', 'Do not decide on this data.'],
            weight: abs($part),
        )];
    }
}
