<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Sums\Cohorts;

/** Where something happens to events, held against the volume of each kind of them. */
final class EventCulprit
{
    /** Events of one visitor hang together: what happens to them varies by so much more. */
    private const SPREAD = 3.0;

    public static function of(Cohorts $bad, Evidence $evidence): Where
    {
        $volume = $evidence->tally->volume;
        $variants = array_map(static fn (string $variant): int => $volume->total(Keys::key('variant', $variant)), $evidence->setup->variants);
        // Segments whose volume was not counted are told by nothing.
        $known = new Cohorts();
        foreach ($bad->of as $key => $cells) {
            $key = (string) $key;
            if ($volume->has($key)) {
                $known->of[$key] = $cells;
            }
        }

        return Culprit::of($known, $volume->total(...), static fn (string $key): array => self::together($volume->hours($key), Cohorts::hoursOf($key)), $variants, $evidence->setup, self::SPREAD);
    }

    /**
     * @param array<int, int> $hours
     *
     * @return array<int, int> so many hours as one
     */
    private static function together(array $hours, int $step): array
    {
        $found = [];
        foreach ($hours as $hour => $number) {
            $at = $hour - $hour % $step;
            $found[$at] = ($found[$at] ?? 0) + $number;
        }

        return $found;
    }
}
