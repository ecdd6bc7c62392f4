<?php

declare(strict_types=1);

namespace Pellix\Core\SignIn;

use DateTimeImmutable;

/** How long a sign-in holds: so long at most, and so long without a sign of its person (NIST SP 800-63B-4, section 2.2.3, from memory: overall and inactivity timeout). */
final readonly class SessionLife
{
    /**
     * @param int $hours   that it lasts at most
     * @param int $minutes that may pass without a sign of its person
     */
    public function __construct(private int $hours, private int $minutes)
    {
    }

    /** When a sign-in that ends at this moment began. */
    public function earliestBegin(DateTimeImmutable $now): DateTimeImmutable
    {
        return $now->modify("-{$this->hours} hours");
    }

    /** When the last sign was of one that ends at this moment. */
    public function earliestSign(DateTimeImmutable $now): DateTimeImmutable
    {
        return $now->modify("-{$this->minutes} minutes");
    }

    /**
     * @param DateTimeImmutable $noted the last sign that was written down
     * @param DateTimeImmutable $sign  the one that is told of with this request; it may be older than that
     */
    public function holds(DateTimeImmutable $began, DateTimeImmutable $noted, DateTimeImmutable $sign, DateTimeImmutable $now): bool
    {
        return $began > $this->earliestBegin($now)
            && max($noted, $sign) > $this->earliestSign($now)
            // A sign that comes too late wakes nothing up.
            && $noted > $this->earliestSign($sign);
    }
}
