<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/**
 * Whether what is different between two pictures of a page is what was changed, what moved along with it, or something else.
 *
 * @phpstan-type Box array{0: int, 1: int, 2: int, 3: int}
 * @phpstan-type Place array{0: string, 1: Box}
 */
final class Pictures
{
    /** Shadows and outlines reach beyond an element. */
    private const MARGIN = 24;

    /**
     * @param list<Box>   $different rectangles that differ
     * @param list<Box>   $changed   where changes were made, before or after
     * @param list<Place> $control   elements of the control, with a short path each, the outer before the inner
     * @param list<Place> $variant   the same of the variant
     *
     * @return list<array{box: Box, element: string}> the rectangles that nobody expected
     */
    public static function unexpected(array $different, array $changed, array $control, array $variant): array
    {
        $before = [];
        foreach ($control as [$path, $box]) {
            $before[$path][] = $box;
        }
        $moved = [];
        foreach ($variant as [$path, $box]) {
            foreach ($before[$path] ?? [] as $old) {
                // The same element, as large as before and elsewhere: it was pushed along.
                if (abs($old[2] - $box[2]) <= 2 && abs($old[3] - $box[3]) <= 2 && (abs($old[0] - $box[0]) > 1 || abs($old[1] - $box[1]) > 1)) {
                    array_push($moved, $box, $old);
                }
            }
        }
        $found = [];
        foreach ($different as $box) {
            if (self::touches($box, $changed, self::MARGIN) || self::touches($box, $moved, self::MARGIN)) {
                continue;
            }
            $found[] = ['box' => $box, 'element' => self::at($box, $variant)];
        }

        return $found;
    }

    /**
     * @param Box         $box
     * @param list<Place> $places
     */
    private static function at(array $box, array $places): string
    {
        [$x, $y] = [$box[0] + intdiv($box[2], 2), $box[1] + intdiv($box[3], 2)];
        $name = '';
        foreach ($places as [$path, [$left, $top, $width, $height]]) {
            if ($x >= $left && $y >= $top && $x <= $left + $width && $y <= $top + $height) {
                $name = $path;
            }
        }

        return $name;
    }

    /**
     * @param Box       $box
     * @param list<Box> $others
     */
    private static function touches(array $box, array $others, int $margin): bool
    {
        foreach ($others as [$x, $y, $width, $height]) {
            if ($box[0] < $x + $width + $margin && $box[0] + $box[2] > $x - $margin && $box[1] < $y + $height + $margin && $box[1] + $box[3] > $y - $margin) {
                return true;
            }
        }

        return false;
    }
}
