<?php

declare(strict_types=1);

namespace Demo\Traffic;

use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** Repeatable chance: the same seed throws the same. */
final readonly class Dice
{
    private const PRECISION = 2 ** 40;

    private Randomizer $random;

    public function __construct(int $seed)
    {
        $this->random = new Randomizer(new Xoshiro256StarStar($seed));
    }

    /** @phpstan-impure each time another */
    public function between(int $least, int $most): int
    {
        return $this->random->getInt($least, $most);
    }

    /**
     * A number in [0, 1).
     *
     * @phpstan-impure each time another
     */
    public function fraction(): float
    {
        return $this->random->getInt(0, self::PRECISION - 1) / self::PRECISION;
    }

    /** @phpstan-impure each time another */
    public function chance(float $part): bool
    {
        return $this->fraction() < $part;
    }

    /** An id in the runtime's form: 26 of a-z and 0-9. */
    public function id(): string
    {
        $digits = static fn (int $number): string => str_pad(base_convert((string) $number, 10, 36), 10, '0', STR_PAD_LEFT);
        $most = 36 ** 10 - 1;

        return substr($digits($this->between(0, $most)).$digits($this->between(0, $most)).$digits($this->between(0, $most)), 0, 26);
    }
}
