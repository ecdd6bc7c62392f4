<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

/** Which day of a time zone a half hour lies in, also where a clock is some hours off. */
final class Calendar
{
    /** @var array<int, string> */
    private array $known = [];

    public function __construct(private readonly \DateTimeZone $zone)
    {
    }

    /**
     * @param int $ahead half hours that the clock is ahead of the zone's
     *
     * @return string such as `2026-03-02`
     */
    public function day(int $slot, int $ahead = 0): string
    {
        return $this->known[$slot + $ahead] ??= $this->at(Presence::begin($slot + $ahead))->format('Y-m-d');
    }

    public function at(int $milliseconds): \DateTimeImmutable
    {
        return (new \DateTimeImmutable('@'.(int) floor($milliseconds / 1000)))->setTimezone($this->zone);
    }
}
