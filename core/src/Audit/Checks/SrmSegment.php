<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Shapes\RatioFault;
use Pellix\Core\Audit\Shapes\Where;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Whose split is off: the smallest set of segments without which the rest is balanced. */
final class SrmSegment implements Check
{
    /** Where so many of all visitors are missing, the data is spoilt as a whole (common practice, no source). */
    private const SPOILT = 0.01;

    /** Days and hours say when, which is told otherwise. */
    private const WHEN = ['day', 'hour', 'weekday'];

    public function code(): AuditCode
    {
        return AuditCode::SrmSegment;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed();
        $alpha = log($evidence->setup->alpha);
        $ratio = $evidence->ratio;
        $off = array_values(array_filter($ratio->segments(), static fn (array $one): bool => $one['logQ'] < $alpha));
        $isOff = $ratio->isOff() || $ratio->sequential()['crossed'] !== null;
        if ($off === [] && ! $isOff) {
            return [];
        }
        $fault = $ratio->fault();
        if ($fault !== null && $fault->keys !== []) {
            return [self::finding($evidence, $fault, $isOff)];
        }
        $who = array_values(array_filter($off, static fn (array $one): bool => ! in_array(Keys::parts($one['key'])[0], self::WHEN, true)));
        // At some hours of each day, or on some days of each week.
        $byTime = $who === [] && ($fault === null || ($fault->since === null && $fault->until === null)) ? $ratio->faultByTime() : null;
        if ($byTime !== null && $byTime->keys !== []) {
            return [self::finding($evidence, $byTime, $isOff)];
        }
        if ($isOff) {
            // It is everybody's.
            return [];
        }
        $fault = $ratio->faultOf(($who[0] ?? $off[0])['key']);

        return $fault === null ? [] : [self::finding($evidence, $fault, false)];
    }

    private static function finding(Evidence $evidence, RatioFault $fault, bool $isOff): Finding
    {
        $setup = $evidence->setup;
        $variant = $setup->variants[$fault->variant];
        $where = Where::of($fault->keys, $variant, $fault->since, $fault->until);
        $isTime = in_array(Keys::parts($fault->keys[0])[0], self::WHEN, true);

        return new Finding(
            AuditCode::SrmSegment,
            $isOff || abs($fault->missing) > self::SPOILT * $evidence->exposed() ? Severity::Blocker : Severity::Warning,
            ($fault->missing >= 0
                ? "Variant {$variant} lost ".Told::percent($fault->part).' of its visitors'
                : "Variant {$variant} has ".Told::count(-$fault->missing, 'visitor').' too many')
                .$where->told($setup->settings).': '.Told::count(abs($fault->missing), 'visitor').($fault->missing >= 0 ? ' missing, from the other variants’ counts' : ' more than the other variants’ counts give')
                .($fault->rest === null ? '.' : '; without them the rest is balanced ('.Told::p($fault->rest).').'),
            $variant,
            page: $where->page,
            segment: $where->segment,
            since: $isTime ? null : $fault->since,
            until: $isTime ? null : $fault->until,
            numbers: ['observed' => $fault->observed, 'expected' => $fault->expected, 'missing' => $fault->missing, 'part' => round($fault->part, 6), 'p_without' => $fault->rest === null ? null : exp($fault->rest)],
            causes: ['Something that only these visitors meet: a script error or a missing feature in their browser, a slow or blocked file, a page of their own.', 'A filter that takes away some of them, such as one against programs.'],
            next: ['Rehearse variant '.$variant.$where->told($setup->settings, false).'.', 'Look at the errors that these visitors’ pages report.'],
            weight: abs($fault->part),
        );
    }
}
