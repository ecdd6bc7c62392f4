<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Together;

use Pellix\Core\Formats\Same;

/**
 * What became of each change of a list in a later state of it: the same, another wording of it, or gone; and which are new.
 *
 * @phpstan-type Json array<string, mixed>
 */
final readonly class Aligned
{
    /**
     * @param array<int, int> $places base index => index in the later list
     * @param list<Json>      $later
     */
    private function __construct(public array $places, public array $later)
    {
    }

    /**
     * @param list<Json> $base
     * @param list<Json> $later
     */
    public static function of(array $base, array $later): self
    {
        $places = [];
        // What says the same is the same, the nearest of several; then what is done to the same elements; then what stands between the same two.
        self::pair($base, $later, $places, static fn (array $a, array $b): bool => Same::json($a, $b));
        self::pair($base, $later, $places, static fn (array $a, array $b): bool => self::subject($a) === self::subject($b));
        self::between($base, $later, $places);
        ksort($places);

        return new self($places, $later);
    }

    /** @return list<int> indexes of the later list that are of no change of the base */
    public function added(): array
    {
        return array_values(array_diff(array_keys($this->later), $this->places));
    }

    /** Whether those that stayed stand in the order that they had. */
    public function keepsOrder(): bool
    {
        $last = -1;
        foreach ($this->places as $place) {
            if ($place < $last) {
                return false;
            }
            $last = $place;
        }

        return true;
    }

    /**
     * @param list<Json>                     $base
     * @param list<Json>                     $later
     * @param array<int, int>                $places
     * @param \Closure(Json, Json): bool     $is
     */
    private static function pair(array $base, array $later, array &$places, \Closure $is): void
    {
        foreach (array_diff_key($base, $places) as $i => $before) {
            $near = null;
            foreach (array_diff_key($later, array_flip($places)) as $j => $after) {
                if ($is($before, $after) && ($near === null || abs($j - $i) < abs($near - $i))) {
                    $near = $j;
                }
            }
            if ($near !== null) {
                $places[$i] = $near;
            }
        }
    }

    /**
     * One of the same kind that stands alone between the same neighbours was written anew: with another selector, say.
     *
     * @param list<Json>      $base
     * @param list<Json>      $later
     * @param array<int, int> $places
     */
    private static function between(array $base, array $later, array &$places): void
    {
        foreach (array_diff_key($base, $places) as $i => $before) {
            $at = isset($places[$i - 1]) ? $places[$i - 1] + 1 : ($i === 0 ? 0 : null);
            if ($at !== null && isset($later[$at]) && ! in_array($at, $places, true) && ($later[$at]['kind'] ?? null) === ($before['kind'] ?? null)) {
                $places[$i] = $at;
            }
        }
    }

    /**
     * What a change is about: its kind, its elements, and the one thing of them that it sets.
     *
     * @param Json $change
     */
    private static function subject(array $change): string
    {
        return json_encode([$change['kind'] ?? '', $change['selector'] ?? '', $change['property'] ?? '', $change['attribute'] ?? '', $change['media'] ?? '', in_array($change['kind'] ?? '', ['sheet', 'script', 'insert'], true) ? ($change['value'] ?? '') : ''], JSON_THROW_ON_ERROR);
    }
}
