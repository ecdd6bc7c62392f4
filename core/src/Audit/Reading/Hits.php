<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\HitFinder;

/** Which events of a unit are hits of a goal. */
final class Hits
{
    /**
     * @param int $place of the goal among those of the set-up
     *
     * @return list<int> positions of its hits
     */
    public static function of(Goal $goal, int $place, Unit $unit): array
    {
        $bit = 1 << $place;
        $found = $views = [];
        $isTold = in_array($goal->kind, ['engaged', 'scroll'], true);
        foreach ($unit->hits as $i) {
            if (($unit->whats[$i]->goals & $bit) === 0) {
                continue;
            }
            if ($isTold) {
                // These are told again and again as they grow; each page view reaches the mark once.
                $view = $unit->props($i)['view'] ?? null;
                $view = is_string($view) ? $view : $unit->whats[$i]->page;
                if (isset($views[$view])) {
                    continue;
                }
                $views[$view] = true;
            }
            $found[] = $i;
        }

        return $goal->kind === 'steps' && $found !== [] ? self::sequences($goal, $unit, $found) : $found;
    }

    /**
     * @param list<int> $positions of events that take a step
     *
     * @return list<int>
     */
    private static function sequences(Goal $goal, Unit $unit, array $positions): array
    {
        $events = $places = [];
        foreach ($positions as $i) {
            $extra = $unit->extra($i);
            $text = static fn (string $name): ?string => is_string($extra[$name] ?? null) ? $extra[$name] : null;
            $ms = $unit->times[$i];
            $seconds = (int) floor($ms / 1000);
            $events[] = new LogEvent((string) $i, $unit->id, new \DateTimeImmutable(sprintf('@%d.%03d', $seconds, $ms - 1000 * $seconds)), Row::text($unit->whats[$i]->name), $text('url') ?? '', $unit->props($i), $text('referrer'), $text('agent'));
        }
        foreach (HitFinder::find($goal, $events, array_fill(0, count($events), 1)) as $hit) {
            $places[] = (int) $hit->event();
        }

        return $places;
    }
}
