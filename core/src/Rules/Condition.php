<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/**
 * One comparison of a fact with a value.
 *
 * Texts are compared byte for byte and numbers with numbers: a text never equals a number. Paths are compared in one
 * spelling (`Spelling::path()`). A fact that does not exist satisfies only `is-not`. The browser's evaluator does the same,
 * held to it by the vectors in tests/vectors.
 */
final readonly class Condition implements Rule
{
    /**
     * @param mixed        $wanted the value in the spelling that it is compared in; of a pattern, what preg_match() takes
     * @param list<string> $ignore differences that do not count: `case` (of ASCII letters), `slash` (at the end)
     */
    private function __construct(public string $fact, public Op $op, public mixed $value, private mixed $wanted, public array $ignore)
    {
    }

    /**
     * @param list<string> $ignore
     *
     * @throws InvalidRule
     */
    public static function of(string $fact, Op $op, mixed $value = null, array $ignore = []): self
    {
        if (Fact::named($fact) === null) {
            throw new InvalidRule("There is no fact \"{$fact}\".", 'fact');
        }
        $op->check($value);
        if (array_diff($ignore, Spelling::IGNORABLE) !== []) {
            throw new InvalidRule('What can be ignored is "case" and "slash".', 'ignore');
        }
        if ($op === Op::Matches && is_string($value)) {
            if ($ignore !== []) {
                throw new InvalidRule('A pattern says itself what it ignores; leave "ignore" out.', 'ignore');
            }

            return new self($fact, $op, $value, Pattern::compile($value), []);
        }
        $spell = static fn (mixed $one): mixed => is_string($one) ? Spelling::ignoring($ignore, $fact === 'url.path' ? Spelling::path($one) : $one) : $one;

        return new self($fact, $op, $value, is_array($value) ? array_map($spell, $value) : $spell($value), $ignore);
    }

    public function matches(Facts $facts): bool
    {
        $fact = $facts->get($this->fact);
        $wanted = $this->wanted;
        if (is_string($fact)) {
            $fact = Spelling::ignoring($this->ignore, $this->fact === 'url.path' ? Spelling::path($fact) : $fact);
        }

        return match ($this->op) {
            Op::Exists => $fact !== null,
            Op::Is => self::same($fact, $wanted),
            Op::IsNot => ! self::same($fact, $wanted),
            Op::Starts => is_string($fact) && is_string($wanted) && str_starts_with($fact, $wanted),
            Op::Ends => is_string($fact) && is_string($wanted) && str_ends_with($fact, $wanted),
            Op::Contains => is_string($fact) && is_string($wanted) && str_contains($fact, $wanted),
            Op::In => is_array($wanted) && array_filter($wanted, static fn (mixed $one): bool => self::same($fact, $one)) !== [],
            Op::Less => self::isNumber($fact) && $fact < $wanted,
            Op::LessOrEqual => self::isNumber($fact) && $fact <= $wanted,
            Op::Greater => self::isNumber($fact) && $fact > $wanted,
            Op::GreaterOrEqual => self::isNumber($fact) && $fact >= $wanted,
            Op::Matches => is_string($fact) && is_string($wanted) && Pattern::matches($wanted, $fact),
        };
    }

    public function judge(Facts $facts, callable $isKnown): ?bool
    {
        return $isKnown($this->fact) ? $this->matches($facts) : null;
    }

    public function decisive(Facts $facts, callable $isKnown): array
    {
        return [$this];
    }

    public function conditions(): iterable
    {
        yield $this;
    }

    public function toArray(): array
    {
        $leaf = ['fact' => $this->fact, 'op' => $this->op->value];
        $leaf = $this->op === Op::Exists ? $leaf : [...$leaf, 'value' => $this->value];

        return $this->ignore === [] ? $leaf : [...$leaf, 'ignore' => $this->ignore];
    }

    private static function isNumber(mixed $fact): bool
    {
        return is_int($fact) || is_float($fact);
    }

    private static function same(mixed $fact, mixed $value): bool
    {
        return self::isNumber($fact) && self::isNumber($value) ? $fact == $value : $fact === $value;
    }
}
