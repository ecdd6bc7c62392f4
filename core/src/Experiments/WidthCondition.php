<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

/**
 * A media condition that binds a change to widths of the screen: `(max-width: 600px)`, `(min-width: 601px)`, or both with `and` between
 * (W3C Media Queries Level 4, 2.5 and 4.1). Whole pixels alone, so that it can be told for any screen whether it holds.
 */
final readonly class WidthCondition
{
    private const WIDEST = 10_000;

    private function __construct(public string $text, private int $least, private int $most)
    {
    }

    /** @throws InvalidExperiment */
    public static function read(string $text): self
    {
        $least = $most = null;
        foreach (preg_split('/\s+and\s+/', trim($text)) ?: [] as $part) {
            if (preg_match('/\A\(\s*(min|max)-width\s*:\s*(\d{1,5})px\s*\)\z/', $part, $found) !== 1 || ($found[1] === 'min' ? $least : $most) !== null || (int) $found[2] > self::WIDEST) {
                throw new InvalidExperiment('Give widths in pixels, such as "(max-width: 600px)" or "(min-width: 601px) and (max-width: 900px)".', 'media');
            }
            if ($found[1] === 'min') {
                $least = (int) $found[2];
            } else {
                $most = (int) $found[2];
            }
        }
        if ($least !== null && $most !== null && $least > $most) {
            throw new InvalidExperiment("No screen is {$least} pixels wide or more and at the same time {$most} or less.", 'media');
        }
        $parts = [...($least === null ? [] : ["(min-width: {$least}px)"]), ...($most === null ? [] : ["(max-width: {$most}px)"])];

        return new self(implode(' and ', $parts), $least ?? 0, $most ?? PHP_INT_MAX);
    }

    /** @param int $width of the screen, in CSS pixels */
    public function holds(int $width): bool
    {
        return $width >= $this->least && $width <= $this->most;
    }
}
