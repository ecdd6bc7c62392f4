<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

use Pellix\Core\Assignment\Assigner;
use Pellix\Core\Events\TrackingPlan;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\Periods;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Statistics\SampleRatio;

/** What is audited: an experiment, the goals that it is held against, and what else is known. */
final readonly class Setup
{
    /** Of more goals only the first are looked at. */
    public const MOST_GOALS = 30;

    private const MOST_VARIANTS = 60;

    /** @var list<Goal> */
    public array $goals;

    /** @var list<string> keys of the variants, in their order */
    public array $variants;

    /** @var list<int> where each epoch begins, in milliseconds since 1970; one epoch at least */
    public array $epochs;

    public Settings $settings;

    /** First and last moment of the run, in milliseconds; open where nothing says them. */
    public int $from;
    public int $to;

    /** @var list<Assigner> of each epoch */
    private array $assigners;

    /** @var list<array{int, int}> when it ran, both ends included */
    private array $periods;

    /**
     * @throws InvalidAudit where there are too many variants
     *
     * @param list<Goal>|null $goals null for the experiment's own
     * @param Periods|null    $ran   when it ran, where it was paused meanwhile; null for from its start to its end
     * @param bool            $readsVisits whether the attention that visits got is looked at as well
     * @param int|null        $until the moment of the audit, in milliseconds: what comes later is left out; null for the end of the log
     */
    public function __construct(
        public Experiment $experiment,
        ?array $goals = null,
        public ?TrackingPlan $plan = null,
        ?Settings $settings = null,
        public float $alpha = SampleRatio::ALPHA,
        public ?int $until = null,
        ?Periods $ran = null,
        public bool $readsVisits = false,
    ) {
        $this->settings = $settings ?? Settings::read(null);
        $this->goals = array_slice($goals ?? $experiment->goals, 0, self::MOST_GOALS);
        $this->variants = array_map(static fn ($one): string => $one->variant->key, $experiment->variants);
        if (count($this->variants) > self::MOST_VARIANTS) {
            throw new InvalidAudit('An audit looks at '.self::MOST_VARIANTS.' variants at most.', 'variants');
        }
        $ms = static fn (\DateTimeImmutable $at): int => 1000 * $at->getTimestamp() + (int) $at->format('v');
        $epochs = array_map(static fn ($epoch): int => $ms($epoch->from), $experiment->epochs);
        $this->from = $experiment->start !== null ? $ms($experiment->start) : ($epochs[0] ?? PHP_INT_MIN);
        $this->to = $experiment->end !== null ? $ms($experiment->end) : PHP_INT_MAX;
        $this->epochs = $epochs ?: [$this->from];
        $this->assigners = array_map($experiment->assignerIn(...), array_keys($this->epochs));
        $this->periods = $ran === null ? [[$this->from, $this->to]] : array_map(static fn (array $one): array => [$ms($one[0]), $one[1] === null ? PHP_INT_MAX : $ms($one[1])], $ran->all);
    }

    /** Who was assigned how in an epoch. */
    public function assigner(int $epoch): Assigner
    {
        return $this->assigners[$epoch];
    }

    /** Whether it ran at a moment. */
    public function isDuring(int $ms): bool
    {
        foreach ($this->periods as [$from, $to]) {
            if ($ms >= $from && $ms <= $to) {
                return true;
            }
        }

        return false;
    }

    /** Position of the epoch that a moment lies in. */
    public function epochAt(int $ms): int
    {
        $at = 0;
        foreach ($this->epochs as $i => $from) {
            if ($from <= $ms) {
                $at = $i;
            }
        }

        return $at;
    }

    /** @return list<float> weights of an epoch, in the order of the variants */
    public function weights(int $epoch): array
    {
        $then = $this->experiment->epochs[$epoch]->weights ?? null;

        return array_map(static fn ($one): float => $then === null ? $one->variant->weight : ($then[$one->variant->key] ?? 0.0), $this->experiment->variants);
    }

    public function control(): int
    {
        foreach ($this->experiment->variants as $i => $one) {
            if ($one->variant->isControl) {
                return $i;
            }
        }

        return 0;
    }

    /** The primary goal, or the first. */
    public function primary(): ?Goal
    {
        foreach ($this->goals as $goal) {
            if ($goal->role === 'primary') {
                return $goal;
            }
        }

        return $this->goals[0] ?? null;
    }
}
