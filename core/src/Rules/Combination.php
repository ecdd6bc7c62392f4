<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** Rules joined by "all" (with no parts: always) or by "any" (with no parts: never). */
final readonly class Combination implements Rule
{
    /** @param list<Rule> $parts */
    private function __construct(private bool $all, private array $parts)
    {
    }

    /** @param list<Rule> $parts */
    public static function all(array $parts): self
    {
        return new self(true, $parts);
    }

    /** @param list<Rule> $parts */
    public static function any(array $parts): self
    {
        return new self(false, $parts);
    }

    public function matches(Facts $facts): bool
    {
        foreach ($this->parts as $part) {
            if ($part->matches($facts) !== $this->all) {
                return ! $this->all;
            }
        }

        return $this->all;
    }

    public function conditions(): iterable
    {
        foreach ($this->parts as $part) {
            yield from $part->conditions();
        }
    }

    public function toArray(): array
    {
        return [$this->all ? 'all' : 'any' => array_map(static fn (Rule $part): array => $part->toArray(), $this->parts)];
    }
}
