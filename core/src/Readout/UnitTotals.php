<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/**
 * What one unit comes to in a readout, from its first exposure on: small enough to be kept of each, so that it can be taken off
 * again when the unit has done more.
 */
final readonly class UnitTotals
{
    /**
     * @param int          $variant  place of the variant that it counts for
     * @param int          $epoch    of its first exposure
     * @param int          $day      the site's day of its first exposure, in days since 1970
     * @param list<string> $segments what it has in common with others, each a dimension and a value parted by U+001F
     * @param int          $sessions that had any event from the first exposure on, the one that it entered in with them
     * @param array<string, array{steps: list<array{int, int, float}>, earlier: float}> $items key of the item => its steps, in the order of
     *        time: day, hits that count, and what they add to the measure; and the same measure before the first exposure. Items
     *        without any of it are left out
     */
    public function __construct(public int $variant, public int $epoch, public int $day, public array $segments, public int $sessions, public array $items)
    {
    }

    /** @return array<mixed> for JSON */
    public function toArray(): array
    {
        return [$this->variant, $this->epoch, $this->day, $this->segments, $this->sessions, array_map(static fn (array $one): array => [$one['steps'], $one['earlier']], $this->items)];
    }

    /** @param array<mixed> $kept what `toArray()` gave */
    public static function from(array $kept): self
    {
        /** @var array{int, int, int, list<string>, int, array<string, array{list<array{int, int, float}>, float}>} $kept */
        [$variant, $epoch, $day, $segments, $sessions, $items] = $kept;

        return new self($variant, $epoch, $day, $segments, $sessions, array_map(static fn (array $one): array => ['steps' => $one[0], 'earlier' => $one[1]], $items));
    }
}
