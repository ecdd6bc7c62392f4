<?php

declare(strict_types=1);

namespace App\Readouts;

use App\Audits\AuditReading;
use App\Models\Audit;
use App\Models\Experiment;
use App\Observation\Observer;
use App\ReadModel\Readings;
use Carbon\CarbonImmutable;
use Pellix\Core\Chain\Chain;
use Pellix\Core\InvalidInput;
use Pellix\Core\Readout\Objections;

/** What speaks against the figures of an experiment now: broken links of its chain, and what its last audit found that nobody has explained. */
final readonly class Findings
{
    public function __construct(private Observer $observer)
    {
    }

    /** @return array{findings: list<array<string, mixed>>, audit: int|null} findings as an audit has them; number of the audit */
    public function of(Experiment $experiment, CarbonImmutable $now): array
    {
        $audit = Audit::query()->where('experiment_id', $experiment->id)->where('state', 'done')->orderByDesc('id')->first();
        $report = $audit === null ? null : AuditReading::report($audit) ?? ['findings' => []];
        $id = (string) $experiment->id;
        try {
            $chain = Chain::judge($this->observer->observe($experiment, Readings::one($experiment->site_id, 'experiment', $id), Readings::one($experiment->site_id, 'inspected', $id), $now, Readings::one($experiment->site_id, 'rehearsed', $id)));
        } catch (InvalidInput $e) {
            return ['findings' => Objections::ofUnreadable("The experiment cannot be read: {$e->field}: {$e->getMessage()}"), 'audit' => $audit?->id];
        }

        return [
            'findings' => Objections::of($chain, $report === null ? null : array_values($report['findings']), $audit === null ? [] : AuditReading::standings($audit, $report)),
            'audit' => $audit?->id,
        ];
    }
}
