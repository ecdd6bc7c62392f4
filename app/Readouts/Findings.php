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
use Pellix\Core\Chain\State;
use Pellix\Core\Chain\Verdict;
use Pellix\Core\InvalidInput;

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
        $own = $audit === null
            ? [['code' => 'audit.none', 'severity' => 'warning', 'link' => 'data', 'message' => 'Nobody has audited this data yet.', 'consequences' => []]]
            : self::open($audit);

        return ['findings' => [...$this->chain($experiment, $now), ...$own], 'audit' => $audit?->id];
    }

    /** @return list<array<string, mixed>> */
    private function chain(Experiment $experiment, CarbonImmutable $now): array
    {
        $id = (string) $experiment->id;
        try {
            $chain = Chain::judge($this->observer->observe($experiment, Readings::one($experiment->site_id, 'experiment', $id), Readings::one($experiment->site_id, 'inspected', $id), $now, Readings::one($experiment->site_id, 'rehearsed', $id)));
        } catch (InvalidInput $e) {
            return [['code' => 'chain.unreadable', 'severity' => 'blocker', 'link' => 'data', 'message' => "The experiment cannot be read: {$e->field}: {$e->getMessage()}", 'consequences' => []]];
        }
        $broken = array_filter($chain->verdicts, static fn (Verdict $one): bool => $one->state === State::Broken);

        return array_values(array_map(static fn (Verdict $one): array => ['code' => "chain.{$one->link->value}", 'severity' => 'blocker', 'link' => $one->link->value, 'message' => $one->words, 'consequences' => []], $broken));
    }

    /** @return list<array<string, mixed>> what nobody has explained or mended */
    private static function open(Audit $audit): array
    {
        $report = AuditReading::report($audit) ?? ['findings' => []];
        $said = [];
        foreach (AuditReading::standings($audit, $report) as $one) {
            if (in_array($one['standing'], ['explained', 'mended'], true)) {
                $said[$one['identity']] = true;
            }
        }

        return self::without(array_values($report['findings']), $said);
    }

    /**
     * What follows from something that was explained is told by itself.
     *
     * @param list<array<string, mixed>> $findings
     * @param array<string, true>        $said
     *
     * @return list<array<string, mixed>>
     */
    private static function without(array $findings, array $said): array
    {
        $open = [];
        foreach ($findings as $one) {
            $consequences = self::without(array_values($one['consequences'] ?? []), $said);
            if (isset($said[$one['identity'] ?? ''])) {
                array_push($open, ...$consequences);
            } else {
                $open[] = [...$one, 'consequences' => $consequences];
            }
        }

        return $open;
    }
}
