<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** A set of characters, as far as telling patterns apart needs it: each of ASCII, and all others as one. */
final readonly class CharacterSet
{
    private const OTHERS = 128;

    /** @param array<int, true> $codes */
    private function __construct(private array $codes)
    {
    }

    public static function none(): self
    {
        return new self([]);
    }

    public static function any(): self
    {
        return new self(array_fill(0, self::OTHERS + 1, true));
    }

    public static function range(int $from, int $to): self
    {
        $codes = [];
        for ($code = $from; $code <= min($to, self::OTHERS - 1); $code++) {
            $codes[$code] = true;
        }
        if ($to >= self::OTHERS) {
            $codes[self::OTHERS] = true;
        }

        return new self($codes);
    }

    public function with(self $other): self
    {
        return new self($this->codes + $other->codes);
    }

    /** Everything else. What is not ASCII stays in: some of it always is. */
    public function inverse(): self
    {
        return new self(array_diff_key(self::any()->codes, array_diff_key($this->codes, [self::OTHERS => true])));
    }

    public function meets(self $other): bool
    {
        return array_intersect_key($this->codes, $other->codes) !== [];
    }
}
