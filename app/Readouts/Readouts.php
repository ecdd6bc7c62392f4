<?php

declare(strict_types=1);

namespace App\Readouts;

use App\Models\Experiment;
use App\ReadModel\Readings;
use Carbon\CarbonImmutable;
use Pellix\Core\Readout\Gate;

/** The readout of an experiment, as it was put together last, behind the gate as it is now. */
final readonly class Readouts
{
    public function __construct(private Findings $findings)
    {
    }

    /** @return array{state: 'none'|'problem'|'made', problem: string|null, at: string|null, audit: int|null, gate: Gate|null, report: array<string, mixed>|null, proposal: array{choice: string, because: string}|null} */
    public function of(Experiment $experiment, CarbonImmutable $now): array
    {
        $kept = $experiment->started_at === null ? null : Readings::one($experiment->site_id, 'readout', (string) $experiment->id);
        if ($kept === null || ! isset($kept['figures'])) {
            return ['state' => $kept === null ? 'none' : 'problem', 'problem' => $kept['problem'] ?? null, 'at' => $kept['at'] ?? null, 'audit' => null, 'gate' => null, 'report' => null, 'proposal' => null];
        }
        ['findings' => $findings, 'audit' => $audit] = $this->findings->of($experiment, $now);
        $gate = Gate::of($findings, Cover::lifted($experiment)?->reason);

        return ['state' => 'made', 'problem' => null, 'at' => $kept['at'], 'audit' => $audit, 'gate' => $gate, 'report' => [...$gate->before($kept['figures']), 'at' => $kept['at']], 'proposal' => $gate->shows() ? $kept['proposal'] ?? null : null];
    }
}
