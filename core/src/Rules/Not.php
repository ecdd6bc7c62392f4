<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** Matches when its part does not. */
final readonly class Not implements Rule
{
    public function __construct(private Rule $part)
    {
    }

    public function matches(Facts $facts): bool
    {
        return ! $this->part->matches($facts);
    }

    public function judge(Facts $facts, callable $isKnown): ?bool
    {
        $answer = $this->part->judge($facts, $isKnown);

        return $answer === null ? null : ! $answer;
    }

    public function decisive(Facts $facts, callable $isKnown): array
    {
        return $this->part->decisive($facts, $isKnown);
    }

    public function conditions(): iterable
    {
        yield from $this->part->conditions();
    }

    public function toArray(): array
    {
        return ['not' => $this->part->toArray()];
    }
}
