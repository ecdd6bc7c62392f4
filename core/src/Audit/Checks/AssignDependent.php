<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Told;
use Pellix\Core\Statistics\Contingency;
use Pellix\Core\Wiring\Findings\Severity;

/** Whether the variants of another experiment in the same log are spread evenly over the variants of this one (Pearson’s chi-square). */
final class AssignDependent implements Check
{
    private const FEWEST = 100;

    public function code(): AuditCode
    {
        return AuditCode::AssignDependent;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        $others = $evidence->tally->assignment->others;
        if ($others === []) {
            throw new NotRun('The log has no exposures of another experiment.');
        }
        $found = [];
        ksort($others);
        foreach ($others as $experiment => $rows) {
            $names = [];
            foreach ($rows as $cells) {
                $names += $cells;
            }
            $names = array_map(strval(...), array_keys($names));
            sort($names);
            $table = [];
            foreach (array_keys($setup->variants) as $place) {
                $table[] = array_map(static fn (string $name): int => $rows[$place][$name] ?? 0, $names);
            }
            if (array_sum(array_map(array_sum(...), $table)) < self::FEWEST) {
                continue;
            }
            $test = Contingency::test($table);
            if ($test->df < 1 || $test->smallest < 5 || $test->logP + log(count($others)) >= log($setup->alpha / 20)) {
                continue;
            }
            $cells = [];
            foreach ($test->residuals as $i => $residuals) {
                foreach ($residuals as $j => $residual) {
                    $cells[] = ['variant' => $setup->variants[$i], 'other' => $names[$j], 'visitors' => $table[$i][$j], 'residual' => round($residual, 2)];
                }
            }
            // Of two that are equally far off, as in every table of two by two, the one that is not the control is told.
            $control = $setup->variants[$setup->control()];
            usort($cells, static fn (array $a, array $b): int => $b['residual'] <=> $a['residual'] ?: ($a['variant'] === $control) <=> ($b['variant'] === $control) ?: strcmp($a['variant'], $b['variant']));
            $found[] = new Finding(
                AuditCode::AssignDependent,
                Severity::Warning,
                "Who is in variant {$cells[0]['variant']} is in variant {$cells[0]['other']} of the experiment {$experiment} more often than chance gives (".Told::p($test->logP).'): what that one does is counted as an effect of this one.',
                $cells[0]['variant'],
                numbers: ['experiment' => (string) $experiment, 'statistic' => $test->statistic, 'df' => $test->df, 'log_p' => is_finite($test->logP) ? $test->logP : null, 'cells' => array_slice($cells, 0, 20)],
                causes: ['Both experiments assign by the same salt or the same number.', 'The pages or the audience of one hang on what the other shows.', 'One of them loses visitors of some variants of the other.'],
                next: ['Give each a salt of its own, or put both into one group, so that they share no visitors.'],
                weight: 0.01,
            );
        }

        return $found;
    }
}
