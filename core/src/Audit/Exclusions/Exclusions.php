<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Exclusions;

use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Reading\What;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\ExclusionSum;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Rules\Facts;

/** All that is left out of an audit. Each marks the events that it concerns, while they are read; whose they are is left out later. */
final readonly class Exclusions
{
    private const MOST = 30;

    /** The first bit above the flags of an event: of the first exclusion. */
    private const SHIFT = 8;

    /** @param list<Exclusion> $all */
    private function __construct(public array $all)
    {
    }

    /**
     * @param array<mixed> $json
     *
     * @throws InvalidAudit
     */
    public static function read(array $json): self
    {
        $all = [];
        foreach (array_values($json) as $i => $one) {
            $i < self::MOST || throw new InvalidAudit('An audit has '.self::MOST.' exclusions at most.', (string) $i);
            $all[] = Fields::within((string) $i, static fn (): Exclusion => Exclusion::read($one), InvalidAudit::class);
        }

        return new self($all);
    }

    public function isNone(): bool
    {
        return $this->all === [];
    }

    /**
     * Bits of those that an event is concerned by.
     *
     * @param int               $at    milliseconds since 1970
     * @param int               $flags see `Row`
     * @param callable(): Facts $facts of the event, which are worked out only where a rule asks
     */
    public function marks(int $at, string $visitor, int $flags, callable $facts): int
    {
        $marks = 0;
        foreach ($this->all as $i => $one) {
            $isMarked = match ($one->kind) {
                ExclusionKind::Bots => ($flags & Row::CRAWLER) !== 0,
                ExclusionKind::Time => $one->holds($at),
                ExclusionKind::Page => $one->rule?->matches($facts()) === true,
                ExclusionKind::Internal => $one->isByMark() ? ($flags & Row::INTERNAL) !== 0 : $one->names($visitor) || $one->rule?->matches($facts()) === true,
            };
            $marks |= $isMarked ? 1 << (self::SHIFT + $i) : 0;
        }

        return $marks;
    }

    /**
     * What is left of a unit; null where nothing is.
     *
     * @param ExclusionSum $out takes down what is not
     */
    public function left(Unit $unit, Setup $setup, ExclusionSum $out): ?Unit
    {
        if ($this->all === []) {
            return $unit;
        }
        $whole = $this->ofUnit($unit);
        if ($whole !== []) {
            $out->unit($unit, $whole);

            return null;
        }
        $some = $this->ofEvents($unit);
        if ($some === null) {
            return $unit;
        }
        [$lines, $by] = $some;
        $out->events($by, count($unit->rows) + count($unit->copies) - count($lines));

        return $lines === [] ? null : new Unit($unit->key, $lines, $setup);
    }

    /**
     * Which exclusions leave a whole unit out.
     *
     * @return list<int> by their place
     */
    private function ofUnit(Unit $unit): array
    {
        $marks = 0;
        foreach ($unit->whats as $what) {
            $marks |= $what->flags;
        }
        // Where it met the experiment first, or would have.
        $first = $unit->exposures[0] ?? $unit->viewedAt;
        $out = [];
        foreach ($this->all as $i => $one) {
            $bit = 1 << (self::SHIFT + $i);
            $isOut = match (true) {
                $one->kind === ExclusionKind::Time => $first !== null && ($unit->whats[$first]->flags & $bit) !== 0,
                $one->kind === ExclusionKind::Bots && $unit->isInhuman => true,
                default => $one->kind->isOfVisitors() && ($marks & $bit) !== 0,
            };
            if ($isOut) {
                $out[] = $i;
            }
        }

        return $out;
    }

    /**
     * Events of a unit that is not left out, but some of its events are.
     *
     * @return array{0: list<string>, 1: array<int, int>}|null what is left of its lines (see `Row`), and place of the exclusion => events that it leaves out; null where that is none
     */
    private function ofEvents(Unit $unit): ?array
    {
        $mask = 0;
        foreach ($this->all as $i => $one) {
            $mask |= $one->kind->isOfVisitors() ? 0 : 1 << (self::SHIFT + $i);
        }
        $left = $out = [];
        foreach ([...$unit->rows, ...$unit->copies] as $at => $row) {
            $marks = $mask & What::of($row[Row::WHAT])->flags;
            if ($marks === 0) {
                $left[] = implode("\t", $row);
                continue;
            }
            foreach ($this->all as $i => $one) {
                if (($marks & 1 << (self::SHIFT + $i)) !== 0) {
                    $out[$i] = ($out[$i] ?? 0) + 1;
                }
            }
        }

        return $out === [] ? null : [$left, $out];
    }

    /** Whether a stretch lies within time that is left out: what is found there is nobody's concern any more. */
    public function cover(?int $since, ?int $until): bool
    {
        foreach ($this->all as $one) {
            if ($since !== null && $one->holds($since) && ($until === null || $until <= $one->to)) {
                return true;
            }
        }

        return false;
    }
}
