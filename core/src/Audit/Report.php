<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

use Pellix\Core\Audit\Exclusions\Effect;
use Pellix\Core\Audit\Reading\CountTable;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Shapes\RatioFault;
use Pellix\Core\Statistics\SampleRatio;
use Pellix\Core\Wiring\Findings\Severity;

/** What an audit says: whether the data is fit to decide on, why, and by which checks. */
final readonly class Report
{
    /** Where more of the lines were left out, nobody should believe the rest (common practice, no source). */
    private const LEFT_OUT = 0.1;

    private const MOST_SEGMENTS = 300;

    /**
     * @param list<Finding>                                         $findings by weight; what follows from one stands within it
     * @param list<array{code: string, ran: bool, why: string|null}> $checks
     * @param bool                                                  $hasFailed whether a check broke down: then nobody knows what it would have found
     */
    private function __construct(public Evidence $evidence, public array $findings, public array $checks, private bool $hasFailed)
    {
    }

    /**
     * Runs every check. One that fails takes no other with it.
     *
     * @param list<AuditCode>|null $only null for all
     */
    public static function of(Evidence $evidence, ?array $only = null): self
    {
        $findings = $checks = [];
        $hasFailed = false;
        foreach (Registry::checks() as $check) {
            if ($only !== null && ! in_array($check->code(), $only, true)) {
                continue;
            }
            try {
                if ($evidence->isTable && ! in_array($check->code(), CountTable::TELLS, true)) {
                    throw new NotRun('A table of counts has no events.');
                }
                array_push($findings, ...array_filter($check->look($evidence), static fn (Finding $one): bool => ! $evidence->setup->settings->exclusions->cover($one->since, $one->until ?? $evidence->period()[1] ?? null)));
                $checks[] = ['code' => $check->code()->value, 'ran' => true, 'why' => null];
            } catch (NotRun $e) {
                $checks[] = ['code' => $check->code()->value, 'ran' => false, 'why' => $e->getMessage()];
            } catch (\Throwable $e) {
                $hasFailed = true;
                $checks[] = ['code' => $check->code()->value, 'ran' => false, 'why' => "It failed, and should not have: {$e->getMessage()}"];
            }
        }

        return new self($evidence, Finding::byWeight(Causes::group($findings)), $checks, $hasFailed);
    }

    /** @return 'fit'|'doubt'|'unfit' */
    public function verdict(): string
    {
        $gravest = Severity::Note;
        foreach ($this->findings as $finding) {
            $gravest = Finding::rank($finding->gravest()) < Finding::rank($gravest) ? $finding->gravest() : $gravest;
        }

        return match (true) {
            $gravest === Severity::Blocker => 'unfit',
            $gravest === Severity::Warning, $this->leftOut() > self::LEFT_OUT, $this->evidence->skipped->isCut, $this->hasFailed, $this->evidence->exposed() === 0 => 'doubt',
            default => 'fit',
        };
    }

    /** The part of the lines that could not be read. */
    public function leftOut(): float
    {
        return $this->evidence->skipped->lines / max(1, $this->evidence->lines);
    }

    /** The verdict in words, with what leads to it. */
    public function sentence(): string
    {
        $first = $this->findings[0] ?? null;
        $out = $this->evidence->skipped->lines;
        $left = $out === 0 ? '' : ' '.Told::count($out, 'line').' ('.Told::percent($this->leftOut()).') '.($out === 1 ? 'was' : 'were').' left out.';

        return match ($this->verdict()) {
            'unfit' => 'Do not decide on this data: '.lcfirst($first->message ?? ''),
            'doubt' => match (true) {
                $this->evidence->exposed() === 0 => 'Nothing can be said: no visitor of this log was exposed to this experiment while it ran.',
                $this->evidence->skipped->isCut => 'Be careful with this data: the file could be read up to a point only, and nobody knows what came after it.',
                ($first === null || $first->gravest() === Severity::Note) && $this->hasFailed => 'Be careful with this data: not every check could be made.',
                $first === null || $first->gravest() === Severity::Note => 'Be careful with this data: '.Told::percent($this->leftOut()).' of the lines could not be read.',
                default => 'Be careful with this data: '.lcfirst($first->message),
            },
            default => 'This data is fit to decide on'.(($loss = $this->seen()) === null ? '.' : ': a loss of '.Told::percent($loss).' of a variant’s visitors would have shown.'),
        }.$left;
    }

    /** The smallest loss that would have shown. */
    private function seen(): ?float
    {
        $setup = $this->evidence->setup;

        return $this->evidence->exposed() === 0 ? null : SampleRatio::smallestLoss($this->evidence->exposed(), $setup->weights(count($setup->epochs) - 1), $setup->alpha);
    }

    public function isBlocked(): bool
    {
        return $this->verdict() === 'unfit';
    }

    /** @return array<string, mixed> as docs/formats.md has it */
    public function toArray(): array
    {
        $evidence = $this->evidence;
        [$from, $to] = $evidence->period() ?? [null, null];

        return [
            'pellix' => 1,
            'engine' => Engine::VERSION,
            'fingerprint' => $evidence->fingerprint,
            'experiment' => $evidence->setup->experiment->key,
            'verdict' => $this->verdict(),
            'sentence' => $this->sentence(),
            'period' => ['from' => Finding::time($from), 'to' => Finding::time($to)],
            'counts' => [
                'lines' => $evidence->lines, 'events' => $evidence->events(), 'repeated' => $evidence->copies, 'later' => $evidence->later, 'skipped' => $evidence->skipped->lines, 'excluded' => $evidence->tally->exclusions->allEvents,
                'visitors' => $evidence->visitors, 'exposed' => $evidence->exposed(), 'variants' => $evidence->variants(),
            ],
            'exclusions' => array_map(static fn (Effect $one): array => $one->toArray($evidence->setup->variants), Effect::all($evidence)),
            'srm' => $this->srm(),
            'findings' => array_map(static fn (Finding $one): array => $one->toArray(), $this->findings),
            'checks' => $this->checks,
            'skipped' => $evidence->skipped->toArray(),
        ];
    }

    /** @return array<string, mixed> */
    private function srm(): array
    {
        $ratio = $this->evidence->ratio;
        $setup = $this->evidence->setup;
        $sequential = $ratio->sequential();
        $segments = [];
        foreach (array_slice($ratio->segments(), 0, self::MOST_SEGMENTS) as $one) {
            [$dimension, $value] = Keys::parts($one['key']);
            $segments[] = [
                'dimension' => $dimension, 'value' => $value, 'observed' => $one['observed'], 'expected' => array_map(static fn (float $mean): float => round($mean, 4), $one['expected']),
                'p' => exp($one['logP']), 'q' => exp($one['logQ']),
                'missing' => array_combine($setup->variants, array_map(static fn (float $missing): int => max(0, (int) round($missing)), RatioFault::missing($one['observed'], $one['expected']))),
            ];
        }

        return [
            'overall' => $ratio->joined()?->toArray(),
            'epochs' => array_map(static fn ($one): ?array => $one?->toArray(), $ratio->epochs()->each),
            'sequential' => ['prior' => $sequential['prior'], 'log_bayes_factor' => is_finite($sequential['log']) ? $sequential['log'] : null, 'p' => $sequential['p'], 'crossed' => $this->evidence->hasTimes ? $sequential['crossed'] : null],
            'stages' => array_map(static fn (array $one): array => ['stage' => $one['stage'], 'observed' => $one['observed'], 'p' => $one['p'], 'log_p' => is_finite($one['logP']) ? $one['logP'] : null], $ratio->stages()),
            'segments' => $segments,
        ];
    }
}
