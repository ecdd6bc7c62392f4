<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/** Days as the site's calendar has them, in days since 1970. */
final class LocalDay
{
    /** Offsets of time zones are multiples of a quarter of an hour. */
    private const STEP = 900_000;
    private const MOST_REMEMBERED = 100_000;

    /** @var array<int, int> */
    private array $known = [];

    public function __construct(private readonly \DateTimeZone $zone)
    {
    }

    /** Of a moment in milliseconds since 1970. */
    public function of(int $ms): int
    {
        $step = intdiv($ms, self::STEP) - ($ms % self::STEP < 0 ? 1 : 0);
        if (count($this->known) > self::MOST_REMEMBERED) {
            $this->known = [];
        }

        return $this->known[$step] ??= $this->day(intdiv(self::STEP, 1000) * $step);
    }

    private function day(int $seconds): int
    {
        return (int) floor(($seconds + $this->zone->getOffset(new \DateTimeImmutable("@{$seconds}"))) / 86_400);
    }
}
