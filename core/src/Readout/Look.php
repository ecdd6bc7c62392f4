<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Planning\Outcome;

/** Which look this is: at the planned end, or before it; and so which intervals may be shown. */
final readonly class Look
{
    /** Common practice, no source. */
    public const LEVEL = 0.95;

    /**
     * @param float       $level     of confidence, of each comparison
     * @param bool        $isAnytime whether intervals hold at any look: before the planned end, or where somebody asks for them
     * @param bool        $isOver    whether the planned end has come, or nobody planned one
     * @param int|null    $planned   units of all variants that the plan asks for
     * @param string      $why       why these intervals, in words
     */
    private function __construct(public float $level, public bool $isAnytime, public bool $isOver, public ?int $planned, public string $why)
    {
    }

    /**
     * @param \DateTimeImmutable $at the moment that is looked at
     *
     * @throws InvalidReadout
     */
    public static function at(Experiment $experiment, \DateTimeImmutable $at, \DateTimeZone $zone, float $level = self::LEVEL, bool $anytime = false): self
    {
        $end = self::end($experiment);
        $isOver = $end === null || $at >= $end;
        $why = match (true) {
            ! $isOver => 'It runs until '.$end->setTimezone($zone)->format('j F Y').': these intervals hold however often one looks.',
            $anytime => 'Asked for: these intervals hold however often one looks.',
            $end === null => 'Nobody has said when it ends: these intervals hold for one look that was decided on beforehand, and for no other.',
            default => 'It ended as planned, on '.$end->setTimezone($zone)->format('j F Y').': these intervals are those of the plan.',
        };

        return new self(self::level($level), $anytime || ! $isOver, $isOver, self::planned($experiment), $why);
    }

    /** Of a table of counts, of which nobody knows when it was made. */
    public static function ofTable(float $level = self::LEVEL, bool $anytime = false): self
    {
        return new self(self::level($level), $anytime, true, null, $anytime
            ? 'Asked for: these intervals hold however often one looks.'
            : 'A table does not say whether anybody looked before: these intervals hold for one look that was decided on beforehand.');
    }

    /** The planned end: the one that was set, or as many days after the start as were planned. */
    public static function end(Experiment $experiment): ?\DateTimeImmutable
    {
        $days = $experiment->plannedDays ?? $experiment->plan?->days;
        $start = $experiment->start ?? ($experiment->epochs[0] ?? null)?->from;

        return $experiment->end ?? ($days === null || $start === null ? null : $start->modify("+{$days} days"));
    }

    private static function planned(Experiment $experiment): ?int
    {
        $sizes = $experiment->plan === null ? null : Outcome::of($experiment->plan)->needed();

        return $sizes?->total();
    }

    private static function level(float $level): float
    {
        return $level >= 0.5 && $level <= 0.9999 ? $level : throw new InvalidReadout('A level of confidence lies between 0.5 and 0.9999.', 'level');
    }

    /** The error that is allowed. */
    public function alpha(): float
    {
        return 1 - $this->level;
    }

    /** @return array{interval: 'anytime'|'planned', level: float, why: string} */
    public function toArray(): array
    {
        return ['interval' => $this->isAnytime ? 'anytime' : 'planned', 'level' => $this->level, 'why' => $this->why];
    }
}
