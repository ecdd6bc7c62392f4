<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/** When an experiment that runs is to be rehearsed again by itself: at a time of the day, and after a publication. */
final readonly class Due
{
    /** Pages are given so long to get a new file. */
    private const SETTLED_SECONDS = 60;

    /**
     * @param string|null $dailyAt          HH:MM in the time zone of the site
     * @param bool        $afterPublication whether also after each publication
     */
    public function __construct(private ?string $dailyAt, private bool $afterPublication)
    {
    }

    /**
     * @param \DateTimeImmutable      $now       in the time zone of the site
     * @param int                     $number    of the file that is published
     * @param \DateTimeImmutable|null $published when it was
     * @param int|null                $rehearsed number of the file that the newest rehearsal was held with; null for none
     * @param \DateTimeImmutable|null $planned   when the last daily one was asked for
     *
     * @return 'published'|'planned'|null why one is due
     */
    public function why(\DateTimeImmutable $now, int $number, ?\DateTimeImmutable $published, ?int $rehearsed, ?\DateTimeImmutable $planned): ?string
    {
        if ($this->afterPublication && $rehearsed !== null && $number > $rehearsed) {
            return $published !== null && $published->getTimestamp() + self::SETTLED_SECONDS <= $now->getTimestamp() ? 'published' : null;
        }
        if ($this->dailyAt !== null && $now->format('H:i') >= $this->dailyAt) {
            return $planned === null || $planned->setTimezone($now->getTimezone())->format('Y-m-d') < $now->format('Y-m-d') ? 'planned' : null;
        }

        return null;
    }
}
