<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

/** When an experiment ran: periods from a moment to a moment, both included; the last one may still be open. */
final readonly class Periods
{
    /** @param list<array{\DateTimeImmutable, \DateTimeImmutable|null}> $all from and to, in the order of time */
    public function __construct(public array $all)
    {
    }

    public function contain(\DateTimeImmutable $moment): bool
    {
        foreach ($this->all as [$from, $to]) {
            if ($moment >= $from && ($to === null || $moment <= $to)) {
                return true;
            }
        }

        return false;
    }

    /** Whether anything between two moments may lie in one of the periods. */
    public function meet(\DateTimeImmutable $first, \DateTimeImmutable $last): bool
    {
        foreach ($this->all as [$from, $to]) {
            if ($last >= $from && ($to === null || $first <= $to)) {
                return true;
            }
        }

        return false;
    }

    public function begin(): ?\DateTimeImmutable
    {
        return $this->all[0][0] ?? null;
    }

    /** Null while it is open, or where there is none. */
    public function end(): ?\DateTimeImmutable
    {
        return $this->all === [] ? null : $this->all[count($this->all) - 1][1];
    }
}
