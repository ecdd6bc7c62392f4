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
