<?php

declare(strict_types=1);

namespace Pellix\Core\Notices;

/** A stretch of each day in which somebody is told nothing: what is to be told waits for its end. */
final readonly class QuietHours
{
    /**
     * @param int $from minute of the day, by the clock on the wall
     * @param int $to   minute of the day; before `$from` where midnight lies between
     */
    private function __construct(public int $from, public int $to)
    {
    }

    /**
     * @param string $from `22:00`
     * @param string $to   `07:00`: the first minute that is not quiet any more
     *
     * @throws InvalidNotices
     */
    public static function of(string $from, string $to): self
    {
        $minutes = [];
        foreach (['quiet_from' => $from, 'quiet_to' => $to] as $field => $time) {
            if (preg_match('/\A([01]\d|2[0-3]):([0-5]\d)\z/', $time, $m) !== 1) {
                throw new InvalidNotices('A time of the day is written with hours and minutes, such as 22:00.', $field);
            }
            $minutes[] = 60 * (int) $m[1] + (int) $m[2];
        }
        if ($minutes[0] === $minutes[1]) {
            throw new InvalidNotices('Quiet hours that end when they begin are none, or never end. Give another time, or leave both empty.', 'quiet_to');
        }

        return new self(...$minutes);
    }

    /**
     * When one may speak again; null where one may now. On the day that the clock is changed the wall is believed, as people do.
     *
     * @param \DateTimeImmutable $now in the time zone of whoever is told
     */
    public function until(\DateTimeImmutable $now): ?\DateTimeImmutable
    {
        $minute = 60 * (int) $now->format('G') + (int) $now->format('i');
        $isOver = $this->from < $this->to;
        $isQuiet = $isOver ? $minute >= $this->from && $minute < $this->to : $minute >= $this->from || $minute < $this->to;
        if (! $isQuiet) {
            return null;
        }
        $end = $now->setTime(intdiv($this->to, 60), $this->to % 60);

        return $end > $now ? $end : $now->modify('+1 day')->setTime(intdiv($this->to, 60), $this->to % 60);
    }
}
