<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Sums\Tally;

/**
 * A stretch of time, or a segment of the visitors, that somebody chose to look at: the tests are made again for it. Whoever
 * looks where something was seen finds more than chance would give: such p-values are looks after the fact.
 */
final readonly class Part
{
    /** What is tested again; the other checks need the whole log. */
    public const TESTED = [AuditCode::SrmOverall, AuditCode::SrmSequential, AuditCode::SrmSegment, AuditCode::SrmOnset, AuditCode::SrmStage, AuditCode::GoalSilent, AuditCode::GoalDropped];

    /**
     * @param int|null    $since milliseconds; null for the beginning
     * @param int|null    $until null for the end
     * @param string|null $key   of a segment: see `Keys`
     */
    private function __construct(public ?int $since, public ?int $until, public ?string $key)
    {
    }

    /**
     * @param string|null $dimension such as `browser` or `browser+device`
     *
     * @throws InvalidAudit
     */
    public static function of(?int $since, ?int $until, ?string $dimension = null, ?string $value = null): self
    {
        if ($since !== null && $until !== null && $since >= $until) {
            throw new InvalidAudit('A stretch ends after it begins.', 'until');
        }
        if (($dimension === null) !== ($value === null)) {
            throw new InvalidAudit('A segment has a dimension and a value.', $dimension === null ? 'dimension' : 'value');
        }

        return new self($since, $until, $dimension === null ? null : Keys::key($dimension, (string) $value));
    }

    public function isAll(): bool
    {
        return $this->since === null && $this->until === null && $this->key === null;
    }

    /** What was counted of it alone. */
    public function evidence(Evidence $all): Evidence
    {
        $tally = new Tally($all->setup);
        $tally->split = $all->tally->split->part($this->since, $this->until, $this->key);
        $tally->goals = array_map(fn ($goal) => $goal->part($this->since, $this->until, $this->key), $all->tally->goals);
        $tally->delays = $all->tally->delays->part($this->since, $this->until, $this->key);
        $tally->orders = $all->tally->orders->part($this->since, $this->until, $this->key);
        $tally->volume = $all->tally->volume;
        $tally->exclusions = $all->tally->exclusions;

        return new Evidence($all->setup, $tally, $all->lines, $all->read, $all->later, $all->skipped, $all->copies, $all->shared, $all->visitors, $all->users, $all->orders, $all->isTable, $all->hasTimes, $all->fingerprint);
    }

    /** Whether a moment lies within it. */
    public function holds(int $milliseconds): bool
    {
        return ($this->since === null || $milliseconds >= $this->since) && ($this->until === null || $milliseconds < $this->until);
    }
}
