<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

/**
 * The correction for a visitor's clock that is off.
 *
 * A beacon says by the visitor's clock when it was sent; the server knows when it came. A difference over five minutes
 * cannot be the network: the visitor's clock is off by that much, and every time in the beacon is moved by it.
 */
final readonly class ClockShift
{
    /** A clock may be off by so much, and a time lie so far ahead (common practice, no source). */
    public const TOLERATED_SECONDS = 300;

    /** Events may wait this long in a browser that was offline (common practice, no source). */
    public const LATEST_SECONDS = 7 * 86400;

    /** A clock that has lost its battery says 1970; what is further off is no clock. */
    private const MOST_SECONDS = 60 * 31_557_600;

    private function __construct(public int $seconds, private \DateTimeImmutable $received)
    {
    }

    public static function between(?\DateTimeImmutable $sent, \DateTimeImmutable $received): self
    {
        $difference = $sent === null ? 0 : $received->getTimestamp() - $sent->getTimestamp();

        return new self(abs($difference) > self::TOLERATED_SECONDS ? $difference : 0, $received);
    }

    /** @throws RejectedEvent when the corrected time lies ahead of the server's clock, or more than seven days behind it */
    public function correct(\DateTimeImmutable $time): \DateTimeImmutable
    {
        if (abs($this->seconds) > self::MOST_SECONDS) {
            throw new RejectedEvent('The visitor\'s clock is off by more than sixty years: nothing can be told from it.', 'time');
        }
        $corrected = $time->modify(sprintf('%+d seconds', $this->seconds));
        $age = $this->received->getTimestamp() - $corrected->getTimestamp();
        if ($age < -self::TOLERATED_SECONDS) {
            throw new RejectedEvent('The time lies ahead of the time of receipt, even after the clock was corrected.', 'time');
        }
        if ($age > self::LATEST_SECONDS) {
            throw new RejectedEvent('The time lies more than seven days before the time of receipt.', 'time');
        }

        return $corrected;
    }
}
