<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Statistics\StratifiedRates;
use Pellix\Core\Wiring\Findings\Severity;

/**
 * Weights that were changed, where adding all epochs up would say something else than comparing within each (E. H. Simpson, "The
 * Interpretation of Interaction in Contingency Tables", 1951; joined by Mantel-Haenszel, see `StratifiedRates`).
 */
final class EpochWeights implements Check
{
    /** Standard errors between the two, from which on it matters (common practice, no source). */
    private const MATTERS = 1.0;
    private const SPOILS = 1.96;

    public function code(): AuditCode
    {
        return AuditCode::EpochWeights;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        $n = count($setup->variants);
        $weights = array_map($setup->weights(...), array_keys($setup->epochs));
        $parts = array_unique(array_map(static fn (array $one): string => implode(' ', array_map(static fn (float $w): string => (string) round($w / max(1e-9, array_sum($one)), 6), $one)), $weights));
        if (count($parts) < 2) {
            throw new NotRun('The weights were not changed while it ran.');
        }
        $primary = $setup->primary() ?? throw new NotRun('No goal is declared.');
        $sum = $evidence->tally->goals[(int) array_search($primary, $setup->goals, true)];
        $units = $evidence->tally->split->exposed->byEpoch();
        $reached = $sum->reached->byEpoch();
        $epochs = [];
        foreach (array_keys($setup->epochs) as $epoch) {
            $epochs[] = ['units' => self::row($units[$epoch] ?? [], $n), 'reached' => self::row($reached[$epoch] ?? [], $n)];
        }
        $rates = new StratifiedRates($epochs);
        $control = $setup->control();
        $found = null;
        foreach (array_keys($setup->variants) as $variant) {
            $joined = $variant === $control ? null : $rates->difference($variant, $control);
            [$a, $b] = [array_sum(array_column(array_column($epochs, 'units'), $variant)), array_sum(array_column(array_column($epochs, 'units'), $control))];
            if ($joined === null || $joined['error'] <= 0 || $a === 0 || $b === 0) {
                continue;
            }
            $pooled = array_sum(array_column(array_column($epochs, 'reached'), $variant)) / $a - array_sum(array_column(array_column($epochs, 'reached'), $control)) / $b;
            $off = abs($pooled - $joined['difference']) / $joined['error'];
            if ($off >= self::MATTERS && ($found === null || $off > $found[0])) {
                $found = [$off, $variant, $pooled, $joined];
            }
        }
        if ($found === null) {
            return [];
        }
        [$off, $variant, $pooled, $joined] = $found;
        $points = static fn (float $d): string => sprintf('%+.2f points', 100 * $d);

        return [new Finding(
            AuditCode::EpochWeights,
            $off >= self::SPOILS ? Severity::Warning : Severity::Note,
            "The weights were changed while it ran: all visitors added up, variant {$setup->variants[$variant]} differs in {$primary->key} by {$points($pooled)}; compared within each epoch, by {$points($joined['difference'])}.",
            $setup->variants[$variant],
            $primary->key,
            since: $setup->epochs[1],
            numbers: ['pooled' => round($pooled, 6), 'stratified' => round($joined['difference'], 6), 'error' => round($joined['error'], 6), 'epochs' => $epochs],
            causes: ['The rate was another one in each epoch, and so were the parts of the variants (Simpson’s paradox).'],
            next: ['Read the joined difference, never the added-up one.'],
            weight: min(1.0, $off / 10),
        )];
    }

    /**
     * @param array<int, int> $of place of the variant => number
     *
     * @return list<int> of each of so many variants
     */
    private static function row(array $of, int $variants): array
    {
        $row = [];
        for ($i = 0; $i < $variants; $i++) {
            $row[] = $of[$i] ?? 0;
        }

        return $row;
    }
}
