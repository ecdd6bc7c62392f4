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
     * @param \DateTimeImmutable      $at      the moment that is looked at
     * @param \DateTimeImmutable|null $planned the end that was planned beforehand; null for the one that the experiment declares, or of an open one for none
     * @param bool                    $isOpen  whether it may still run, and an end that nobody planned is none: then the planned intervals are never shown
     *
     * @throws InvalidReadout
     */
    public static function at(Experiment $experiment, \DateTimeImmutable $at, \DateTimeZone $zone, float $level = self::LEVEL, bool $anytime = false, ?\DateTimeImmutable $planned = null, bool $isOpen = false): self
    {
        $planned ??= $isOpen ? null : self::plannedEnd($experiment);
        $ended = $experiment->end !== null && $at >= $experiment->end ? $experiment->end : null;
        $day = static fn (\DateTimeImmutable $moment): string => $moment->setTimezone($zone)->format('j F Y');
        // Whoever ends it a few hours early or late has not looked at the figures for that.
        $stopped = $ended ?? ($isOpen ? $at : null);
        $isEarly = $ended !== null && $planned !== null && $ended < $planned->modify('-1 day');
        $isLate = $stopped !== null && $planned !== null && $stopped > $planned->modify('+1 day');
        $isOver = $planned === null ? ! $isOpen || $ended !== null : $at >= $planned || $ended !== null;
        $isPlanned = ! $anytime && $isOver && ! $isEarly && ! $isLate && ($planned !== null || ! $isOpen);
        $always = 'these intervals hold however often one looks.';
        $why = match (true) {
            $isEarly => "It was ended on {$day($ended)}, before its planned end on {$day($planned)}: {$always}",
            $isLate => "It ran on after its planned end on {$day($planned)}: {$always}",
            ! $isOver && $planned !== null => "It runs until {$day($planned)}: {$always}",
            $planned === null && $isOpen => "Nobody planned when it ends: {$always}",
            $anytime => "Asked for: {$always}",
            $planned === null => 'Nobody has said when it ends: these intervals hold for one look that was decided on beforehand, and for no other.',
            default => "It ended as planned, on {$day($planned)}: these intervals are those of the plan.",
        };

        return new self(self::level($level), ! $isPlanned, $isOver, self::planned($experiment), $why);
    }

    /** Of a table of counts, of which nobody knows when it was made. */
    public static function ofTable(float $level = self::LEVEL, bool $anytime = false): self
    {
        return new self(self::level($level), $anytime, true, null, $anytime
            ? 'Asked for: these intervals hold however often one looks.'
            : 'A table does not say whether anybody looked before: these intervals hold for one look that was decided on beforehand.');
    }

    /** As many days after the start as were planned; else the end that is declared. */
    private static function plannedEnd(Experiment $experiment): ?\DateTimeImmutable
    {
        $days = $experiment->plannedDays ?? $experiment->plan?->days;
        $start = $experiment->start ?? ($experiment->epochs[0] ?? null)?->from;

        return $days === null || $start === null ? $experiment->end : $start->add(new \DateInterval("P{$days}D"));
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
