<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/**
 * One comparison of a fact with a value.
 *
 * Texts are compared byte for byte and numbers with numbers: a text never equals a number. A fact that does not exist
 * satisfies only `is-not`. The browser's evaluator does the same, held to it by tests/vectors/rules.json.
 */
final readonly class Condition implements Rule
{
    private const FACT = '/\A(url\.(full|host|path|fragment)|url\.query\..+|referrer\.host|device|browser|language'
        .'|visitor\.returning|cookie\..+|data\..+|event\.name|event\.props\..+)\z/s';

    private function __construct(public string $fact, public Op $op, public mixed $value)
    {
    }

    /** @throws InvalidRule */
    public static function of(string $fact, Op $op, mixed $value = null): self
    {
        if (preg_match(self::FACT, $fact) !== 1) {
            throw new InvalidRule("There is no fact \"{$fact}\".", 'fact');
        }
        $op->check($value);

        return new self($fact, $op, $value);
    }

    public function matches(Facts $facts): bool
    {
        $fact = $facts->get($this->fact);
        $value = $this->value;

        return match ($this->op) {
            Op::Exists => $fact !== null,
            Op::Is => self::same($fact, $value),
            Op::IsNot => ! self::same($fact, $value),
            Op::Starts => is_string($fact) && is_string($value) && str_starts_with($fact, $value),
            Op::Ends => is_string($fact) && is_string($value) && str_ends_with($fact, $value),
            Op::Contains => is_string($fact) && is_string($value) && str_contains($fact, $value),
            Op::In => is_array($value) && array_filter($value, static fn (mixed $one): bool => self::same($fact, $one)) !== [],
            Op::Less => self::isNumber($fact) && $fact < $value,
            Op::LessOrEqual => self::isNumber($fact) && $fact <= $value,
            Op::Greater => self::isNumber($fact) && $fact > $value,
            Op::GreaterOrEqual => self::isNumber($fact) && $fact >= $value,
            Op::Matches => throw new InvalidRule('A regular expression cannot be evaluated here; use starts, ends or contains.', 'op'),
        };
    }

    public function conditions(): iterable
    {
        yield $this;
    }

    public function toArray(): array
    {
        $leaf = ['fact' => $this->fact, 'op' => $this->op->value];

        return $this->op === Op::Exists ? $leaf : [...$leaf, 'value' => $this->value];
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
