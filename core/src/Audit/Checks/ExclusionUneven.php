<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Exclusions\Effect;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** An exclusion that takes more of one variant than of another: what is left differs by what was left out. */
final class ExclusionUneven implements Check
{
    public function code(): AuditCode
    {
        return AuditCode::ExclusionUneven;
    }

    public function look(Evidence $evidence): array
    {
        $variants = $evidence->setup->variants;
        $tested = array_filter(Effect::all($evidence), static fn (Effect $one): bool => $one->logP !== null);
        if ($tested === []) {
            throw new NotRun('Nothing is left out that was exposed.');
        }
        $findings = [];
        foreach ($tested as $one) {
            // Bonferroni: there are as many tests as exclusions that left somebody out.
            if ($one->logP === null || $one->logP >= log($evidence->setup->alpha / count($tested))) {
                continue;
            }
            $parts = $one->parts;
            arsort($parts);
            [$most, $least] = [(int) array_key_first($parts), (int) array_key_last($parts)];
            $findings[] = new Finding(
                AuditCode::ExclusionUneven,
                Severity::Warning,
                "Exclusion {$one->exclusion->name} takes ".Told::percent($parts[$most])." of variant {$variants[$most]} and ".Told::percent($parts[$least])." of {$variants[$least]}: what is left differs by what was left out.",
                $variants[$most],
                numbers: ['exclusion' => $one->exclusion->name, 'left_out' => array_combine($variants, $one->by), 'parts' => array_combine($variants, array_map(static fn (float $part): float => round($part, 6), $one->parts)), 'log_p' => round($one->logP, 6)],
                causes: ['The variant itself changes who falls under the rule: by its address, its events, or how fast it lets somebody act.', 'A tracking gap of one variant, by which its visitors look like programs.'],
                next: ['Read the numbers without this exclusion, too.', 'Leave out by what was known before the exposure: an address of the office, an id, a user agent.'],
                weight: $parts[$most] - $parts[$least],
            );
        }

        return $findings;
    }
}
