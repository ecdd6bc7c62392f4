<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Told;
use Pellix\Core\Statistics\SampleRatio;
use Pellix\Core\Wiring\Findings\Severity;

/** Too few visitors for an audit to see much: the smallest loss that it could have seen. */
final class RunFew implements Check
{
    /** A loss of that part of a variant’s visitors should be seen (common practice, no source). */
    private const SHOULD = 0.25;

    public function code(): AuditCode
    {
        return AuditCode::RunFew;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed();
        $loss = SampleRatio::smallestLoss($evidence->exposed(), $evidence->setup->weights(count($evidence->setup->epochs) - 1), $evidence->setup->alpha);
        if ($loss !== null && $loss <= self::SHOULD) {
            return [];
        }

        return [new Finding(
            AuditCode::RunFew,
            Severity::Note,
            Told::count($evidence->exposed(), 'visitor').' were exposed: '.($loss === null ? 'not even the loss of a whole variant would show.' : 'a loss under '.Told::percent($loss).' of a variant’s visitors would not show.'),
            numbers: ['visitors' => $evidence->exposed(), 'smallest_loss' => $loss],
            causes: ['It has not run for long, or on pages that few people see.'],
            next: ['Audit again when there are more.'],
            weight: 0.01,
        )];
    }
}
