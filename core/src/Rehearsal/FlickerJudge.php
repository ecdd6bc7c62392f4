<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/**
 * Whether a visitor saw something of the control before a change was made: from what stood in the document whenever the browser
 * made a frame.
 *
 * A frame is the milliseconds since the navigation, whether the page was shown, and of each change how it stood and where.
 *
 * @phpstan-type Frame array{0: float, 1: bool, 2: list<array{0: string, 1: list<int>|null}>}
 */
final class FlickerJudge
{
    /**
     * @param list<Frame> $frames in the order of time; a frame that shows the same as the one before is left out
     * @param int         $change number of the change, from 0
     * @param float       $end    milliseconds, of what was watched
     *
     * @return array{from: float, ms: float, box: list<int>}|null null where nothing of the control was painted
     */
    public static function painted(array $frames, int $change, float $end): ?array
    {
        $from = null;
        $sum = 0.0;
        $box = [];
        foreach ($frames as $i => [$at, $isShown, $changes]) {
            [$state, $where] = $changes[$change] ?? ['unknown', null];
            if ($state === 'made') {
                // What the page takes back later is another matter.
                return $from === null ? null : ['from' => $from, 'ms' => round($sum, 1), 'box' => $box];
            }
            if ($isShown && $state === 'other' && $where !== null) {
                $from ??= $at;
                $sum += ($frames[$i + 1][0] ?? $end) - $at;
                $box = $where;
            }
        }

        // What is never made was not painted too early.
        return null;
    }

    /**
     * @param list<Frame> $frames
     * @param int         $changes how many there are
     * @param float       $end     milliseconds, of what was watched
     *
     * @return array{change: int, from: float, ms: float, box: list<int>}|null of the change, from 1, before which the control was seen longest
     */
    public static function longest(array $frames, int $changes, float $end): ?array
    {
        $longest = null;
        for ($i = 0; $i < $changes; $i++) {
            $painted = self::painted($frames, $i, $end);
            if ($painted !== null && ($longest === null || $painted['ms'] > $longest['ms'])) {
                $longest = ['change' => $i + 1, ...$painted];
            }
        }

        return $longest;
    }

    /** @param array{change: int, from: float, ms: float, box: list<int>} $painted as `longest()` gives it */
    public static function finding(array $painted, bool $hasGuard, string $variant, Screen $screen): Finding
    {
        [$x, $y, $width, $height] = $painted['box'];

        return new Finding(
            CheckCode::FlickerPainted,
            'Visitors see the control for '.round($painted['ms'])." ms before “{$variant}”: it was painted from ".round($painted['from']).' ms after the page began.',
            $hasGuard ? 'The flicker guard let the page go before the change was made.' : 'The page has no flicker guard, so nothing hides it until the changes are made.',
            $hasGuard ? 'See how long our file takes, and set the guard’s time accordingly.' : 'Put the flicker guard into the head, before the snippet.',
            $variant,
            $screen,
            null,
            ['change' => $painted['change'], 'from_ms' => $painted['from'], 'ms' => $painted['ms'], 'box' => "{$width} × {$height} at {$x}, {$y}", 'guard' => $hasGuard],
        );
    }

    /**
     * @param list<Frame> $frames
     *
     * @return float|null milliseconds after which the page was shown; null where it was not
     */
    public static function shownAfter(array $frames): ?float
    {
        $shown = null;
        foreach ($frames as [$at, $isShown]) {
            // Hidden once more: what counts is when it stays.
            $shown = $isShown ? ($shown ?? $at) : null;
        }

        return $shown;
    }
}
