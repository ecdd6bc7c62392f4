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

    public function judge(Facts $facts, callable $isKnown): ?bool
    {
        $answer = $this->all;
        foreach ($this->parts as $part) {
            $one = $part->judge($facts, $isKnown);
            if ($one === ! $this->all) {
                return $one;
            }
            $answer = $one === null ? null : $answer;
        }

        return $answer;
    }

    public function decisive(Facts $facts, callable $isKnown): array
    {
        $answer = $this->judge($facts, $isKnown);
        // Where every part has to agree, all of them count; elsewhere those that say what the whole says.
        $those = array_filter($this->parts, static fn (Rule $part): bool => $part->judge($facts, $isKnown) === $answer);

        return array_merge(...array_values(array_map(static fn (Rule $part): array => $part->decisive($facts, $isKnown), $those)));
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
