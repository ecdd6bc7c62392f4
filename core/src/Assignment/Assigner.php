<?php

declare(strict_types=1);

namespace Pellix\Core\Assignment;

/**
 * Assigns units (visitors or users) to the variants of one experiment.
 *
 * A unit enters when `h(salt + ":share:" + unit) < share`; its variant is the first whose cumulative weight fraction
 * exceeds `h(salt + ":variant:" + unit)`. The two hashes differ, so a larger share lets more units in and moves none
 * of those inside to another variant.
 */
final readonly class Assigner
{
    private string $shareText;

    private string $variantText;

    /** @var list<array{float, string}> the end of each variant's stretch of [0, 1), and its key */
    private array $stretches;

    /**
     * @param float $share the part of eligible traffic that enters, from 0 to 1
     *
     * @throws InvalidAssignment
     */
    public function __construct(string $salt, private float $share, Variants $variants)
    {
        if ($salt === '' || strlen($salt) > 200 || ! mb_check_encoding($salt, 'UTF-8')) {
            throw new InvalidAssignment('A salt is 1 to 200 bytes of UTF-8 text.', 'salt');
        }
        if (! is_finite($share) || $share < 0 || $share > 1) {
            throw new InvalidAssignment('A share is a number from 0 to 1.', 'share');
        }
        $this->shareText = "{$salt}:share:";
        $this->variantText = "{$salt}:variant:";

        $this->stretches = array_map(static fn (float $end, string $key): array => [$end, $key], $variants->ends(), $variants->keys());
    }

    /** @param string $unit a visitor or user id, UTF-8 */
    public function assign(string $unit): Assignment
    {
        $h = UnitInterval::place($this->variantText.$unit);
        $bucket = (int) (10000 * $h);
        if (UnitInterval::place($this->shareText.$unit) >= $this->share) {
            return new Assignment(false, null, $bucket);
        }
        foreach ($this->stretches as [$end, $key]) {
            if ($end > $h) {
                return new Assignment(true, $key, $bucket);
            }
        }

        throw new \LogicException('The last stretch ends at 1, and every hash is below 1.');
    }
}
