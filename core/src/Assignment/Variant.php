<?php

declare(strict_types=1);

namespace Pellix\Core\Assignment;

/** One variant of an experiment: its key, its weight (any non-negative number; only the proportions count), whether it is the control. */
final readonly class Variant
{
    private function __construct(public string $key, public float $weight, public bool $isControl)
    {
    }

    /** @throws InvalidAssignment */
    public static function of(string $key, int|float $weight, bool $isControl = false): self
    {
        if (preg_match('/\A[a-z0-9][a-z0-9_-]{0,39}\z/', $key) !== 1) {
            throw new InvalidAssignment(
                'A variant key is 1 to 40 of a-z, 0-9, "-" and "_", and starts with a letter or a digit.',
                'key',
            );
        }
        if (! is_finite((float) $weight) || $weight < 0) {
            throw new InvalidAssignment('A weight is a number that is not negative.', 'weight');
        }

        return new self($key, (float) $weight, $isControl);
    }
}
