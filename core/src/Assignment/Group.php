<?php

declare(strict_types=1);

namespace Pellix\Core\Assignment;

/**
 * Experiments that must not share visitors: each member has a stretch of [0, 1) of its own, as long as its share, and a unit
 * belongs to the one whose stretch holds the group's own hash of it, `h(group + ":group:" + unit)`, or to none.
 */
final readonly class Group
{
    public const KEY = '/\A[a-z0-9][a-z0-9-]{0,59}\z/';

    /** What rounding may do to ends that meet. */
    private const TOLERANCE = 1e-9;

    /**
     * @param float|null $from where the member's stretch begins; null before it has one
     */
    public function __construct(public string $key, public ?float $from)
    {
        if (preg_match(self::KEY, $key) !== 1) {
            throw new InvalidAssignment('A group is named by 1 to 60 of a-z, 0-9 and "-", and starts with a letter or a digit.', 'key');
        }
        if ($from !== null && ! ($from >= 0 && $from < 1)) {
            throw new InvalidAssignment('A stretch begins at a number from 0 up to, but not 1.', 'from');
        }
    }

    /**
     * Where a stretch is free; null where none is long enough.
     *
     * @param list<array{float, float}> $taken  where the others' stretches begin, and how long they are
     * @param float|null                $wanted where it is to begin, if it may
     */
    public static function room(array $taken, float $share, ?float $wanted = null): ?float
    {
        sort($taken);
        $ends = [0.0, ...array_map(static fn (array $one): float => $one[0] + $one[1], $taken)];
        foreach ($wanted === null ? $ends : [$wanted, ...$ends] as $from) {
            if ($from + $share <= 1 + self::TOLERANCE && ! self::meets($taken, $from, $share)) {
                return $from;
            }
        }

        return null;
    }

    /**
     * Whether a hash lies in two stretches: counted in hashes, of which there are 2^32, so that decimals which are not exact
     * neither keep stretches apart that meet nor let one hash be in two.
     *
     * @param list<array{float, float}> $taken
     */
    private static function meets(array $taken, float $from, float $share): bool
    {
        $hash = static fn (float $place): float => ceil($place * 4294967296);
        foreach ($taken as [$other, $length]) {
            if ($hash($from) < $hash($other + $length) && $hash($other) < $hash($from + $share)) {
                return true;
            }
        }

        return false;
    }
}
