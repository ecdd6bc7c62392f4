<?php

declare(strict_types=1);

namespace Pellix\Core\Assignment;

/**
 * Assigns units (visitors or users) to the variants of one experiment.
 *
 * A unit enters when `h(salt + ":share:" + unit) < share`; its variant is the first whose cumulative weight fraction
 * exceeds `h(salt + ":variant:" + unit)`. The two hashes differ, so a larger share lets more units in and moves none
 * of those inside to another variant. A member of a group takes in those instead whom the group's hash puts into its stretch.
 */
final readonly class Assigner
{
    private string $shareText;

    private string $variantText;

    /** The hash that the stretch of a member of a group begins at; null for an experiment by itself. */
    private ?string $shareBegin;

    /** The hash that the share ends at; see `threshold()`. */
    private string $shareEnd;

    /** @var array<string, string> variant key => the hash that its stretch ends at */
    private array $ends;

    /**
     * @param float $share the part of eligible traffic that enters, from 0 to 1
     *
     * @throws InvalidAssignment
     */
    public function __construct(string $salt, float $share, Variants $variants, ?Group $group = null)
    {
        if ($salt === '' || strlen($salt) > 200 || ! mb_check_encoding($salt, 'UTF-8')) {
            throw new InvalidAssignment('A salt is 1 to 200 bytes of UTF-8 text.', 'salt');
        }
        if (! is_finite($share) || $share < 0 || $share > 1) {
            throw new InvalidAssignment('A share is a number from 0 to 1.', 'share');
        }
        $this->shareText = $group === null ? "{$salt}:share:" : "{$group->key}:group:";
        $this->shareBegin = $group === null ? null : self::threshold($group->from ?? 0.0);
        $this->variantText = "{$salt}:variant:";
        $this->shareEnd = self::threshold(($group->from ?? 0.0) + $share);
        $this->ends = array_combine($variants->keys(), array_map(self::threshold(...), $variants->ends()));
    }

    /** @param string $unit a visitor or user id, UTF-8 */
    public function assign(string $unit): Assignment
    {
        $variant = $this->variantOf($unit);

        return new Assignment($variant !== null, $variant, (int) (10000 * UnitInterval::place($this->variantText.$unit)));
    }

    /**
     * The variant alone, null for a unit that does not enter: what a scan over millions of visitors needs, at little more
     * than the cost of the two hashes.
     */
    public function variantOf(string $unit): ?string
    {
        $entry = \hash('murmur3a', $this->shareText.$unit, true);
        if (\strcmp($entry, $this->shareEnd) >= 0 || ($this->shareBegin !== null && \strcmp($entry, $this->shareBegin) < 0)) {
            return null;
        }
        $hash = \hash('murmur3a', $this->variantText.$unit, true);
        foreach ($this->ends as $key => $end) {
            if (\strcmp($hash, $end) < 0) {
                return (string) $key;
            }
        }

        throw new \LogicException('The last stretch ends at 1, and every hash is below 1.');
    }

    /**
     * The four bytes that a hash must be below, for `h(s) < fraction` to hold.
     *
     * Big-endian bytes compare as their numbers do; a multiplication by 2^32 is exact in a double; and a whole number is
     * below x when it is below x rounded up. So this decides as the comparison of the fractions does, to the last bit.
     */
    private static function threshold(float $fraction): string
    {
        // At 1 every hash is below: a fifth byte makes it longer than all.
        return $fraction >= 1 ? "\xff\xff\xff\xff\xff" : pack('N', (int) ceil($fraction * 4294967296));
    }
}
