<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Shapes\RatioFault;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Programs among the exposed: by what they call themselves, or since no person is that fast; and what removing them does to the ratio. */
final class EventBot implements Check
{
    private const FEWEST = 10;

    /** Of the exposed (common practice, no source). */
    private const NOTED = 0.05;

    /** Programs meet the variants as the weights say; where they do not by that level, they spoil the ratio. */
    private const UNEVEN = 1e-4;

    public function code(): AuditCode
    {
        return AuditCode::EventBot;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed();
        $setup = $evidence->setup;
        $split = $evidence->tally->split;
        if ($split->programs < self::FEWEST) {
            return [];
        }
        $part = $split->programs / $evidence->exposed();
        $with = $evidence->ratio->joined();
        $without = $evidence->ratio->joined($split->persons);
        $n = count($setup->variants);
        $programs = array_map(static fn (int $all, int $persons): int => $all - $persons, $split->exposed->byVariant($n), $split->persons->byVariant($n));
        [, $expected] = RatioFault::counts($split->exposed, '', $setup);
        $logP = RatioFault::logP($programs, $expected);
        $mends = $with !== null && $without !== null && $with->isMismatch() && ! $without->isMismatch();
        if (! $mends && $logP >= log(self::UNEVEN) && $part < self::NOTED) {
            return [];
        }
        $variant = null;
        if ($logP < log(self::UNEVEN)) {
            $more = array_map(static fn (int $is, float $was): float => $is / max(1e-9, $was), $programs, $expected);
            $variant = $setup->variants[(int) array_search(max([0.0, ...$more]), $more, true)];
        }

        return [new Finding(
            AuditCode::EventBot,
            $mends || $logP < log(self::UNEVEN) ? Severity::Warning : Severity::Note,
            Told::count($split->programs, 'program').' ('.Told::percent($part).' of the exposed) '.($variant === null ? 'are among the visitors' : "are among the visitors, most in variant {$variant}")
                .($with === null || $without === null ? '.' : ': the sample ratio has '.Told::p($with->logP).' with, '.Told::p($without->logP).' without them.'),
            $variant,
            numbers: ['programs' => $split->programs, 'part' => round($part, 6), 'by_variant' => array_combine($setup->variants, $programs), 'p_with' => $with?->p, 'p_without' => $without?->p,
                'crawlers' => $evidence->tally->hygiene->crawlers, 'too_fast' => $evidence->tally->hygiene->inhuman],
            causes: ['Crawlers and monitors that run scripts.', 'A program that was made for this site, which keeps no cookie or always meets the same variant.'],
            next: ['Leave them out of all variants by the same rule, then audit again.'],
            weight: $part,
        )];
    }
}
