<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

/** What the times of an experiment have it do by now. */
final readonly class DueAction
{
    /** A start that was missed for longer is not made up for: nobody counts on it any more (common practice, no source). */
    private const LATEST_START_SECONDS = 24 * 3600;

    /** What is this late is said to be. */
    private const LATE_SECONDS = 120;

    /**
     * @param 'start'|'end'|'miss' $action `miss`: the time of the start went by, and it is not to start any more
     * @param string               $words  what is to be said of it
     */
    private function __construct(public string $action, public string $words)
    {
    }

    /**
     * @param int|null      $visitors with how many it is to end
     * @param int           $entered  how many have entered
     * @param \DateTimeZone $zone     in which times are said
     *
     * @return self|null null where nothing is due
     */
    public static function of(Stage $stage, ?\DateTimeImmutable $start, ?\DateTimeImmutable $end, ?int $visitors, int $entered, \DateTimeImmutable $now, \DateTimeZone $zone): ?self
    {
        if ($stage === Stage::Scheduled) {
            return $start === null || $start > $now ? null : self::start($start, $end, $now, $zone);
        }
        if ($stage !== Stage::Running && $stage !== Stage::Paused) {
            return null;
        }

        return match (true) {
            $end !== null && $end <= $now => new self('end', self::punctuality($end, $now, $zone)),
            $visitors !== null && $entered >= $visitors => new self('end', "With {$entered} visitors: {$visitors} were planned."),
            default => null,
        };
    }

    private static function start(\DateTimeImmutable $start, ?\DateTimeImmutable $end, \DateTimeImmutable $now, \DateTimeZone $zone): self
    {
        $isTooLate = $now->getTimestamp() - $start->getTimestamp() > self::LATEST_START_SECONDS || ($end !== null && $end <= $now);

        return $isTooLate
            ? new self('miss', 'Its time went by while Pellix did not run: it was to start '.self::said($start, $zone).'.')
            : new self('start', self::punctuality($start, $now, $zone));
    }

    private static function punctuality(\DateTimeImmutable $time, \DateTimeImmutable $now, \DateTimeZone $zone): string
    {
        return $now->getTimestamp() - $time->getTimestamp() > self::LATE_SECONDS ? 'Late: Pellix did not run at its time, '.self::said($time, $zone).'.' : 'At its time.';
    }

    private static function said(\DateTimeImmutable $time, \DateTimeZone $zone): string
    {
        return $time->setTimezone($zone)->format('j M Y H:i');
    }
}
