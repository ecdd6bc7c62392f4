<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

/** When a running experiment is to be audited by itself: every day, and some time after each publication. */
final class WatchDue
{
    /** Hour of the day, in the time zone of the site: before people come to work, after most nights' jobs. */
    private const HOUR = 5;

    /** What a publication did shows only once visitors have met it, in seconds. */
    private const AFTER = 3600;

    /**
     * @param \DateTimeImmutable      $now       in the time zone of the site
     * @param \DateTimeImmutable|null $started   when the experiment was
     * @param \DateTimeImmutable|null $last      when its newest audit was asked for
     * @param \DateTimeImmutable|null $published when the file was that pages get now
     *
     * @return 'daily'|'published'|null why one is due
     */
    public static function why(\DateTimeImmutable $now, ?\DateTimeImmutable $started, ?\DateTimeImmutable $last, ?\DateTimeImmutable $published): ?string
    {
        $today = $now->setTime(self::HOUR, 0);
        $due = $today > $now ? $today->modify('-1 day') : $today;
        // On the day that it starts there is nothing to look at yet.
        if ($started !== null && $started < $due && ($last === null || $last < $due)) {
            return 'daily';
        }
        $settled = $published === null ? null : $published->getTimestamp() + self::AFTER;

        return $last !== null && $settled !== null && $settled < $now->getTimestamp() && $last->getTimestamp() < $settled ? 'published' : null;
    }
}
