<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** How a condition compares a fact with its value. */
enum Op: string
{
    case Is = 'is';
    case IsNot = 'is-not';
    case Starts = 'starts';
    case Ends = 'ends';
    case Contains = 'contains';
    case Matches = 'matches';
    case In = 'in';
    case Exists = 'exists';
    case Less = 'lt';
    case LessOrEqual = 'lte';
    case Greater = 'gt';
    case GreaterOrEqual = 'gte';

    /** @throws InvalidRule when the value is of no use to the operator */
    public function check(mixed $value): void
    {
        if ($value === null && $this !== self::Exists) {
            throw new InvalidRule('What it is compared with is missing.', 'value');
        }
        $complaint = match ($this) {
            self::Is, self::IsNot => is_scalar($value) ? null : 'a text, a number, true or false',
            self::Starts, self::Ends, self::Contains => is_string($value) && $value !== '' ? null : 'a text that is not empty',
            self::Matches => is_string($value) && $value !== '' ? null : 'a regular expression',
            self::In => is_array($value) && array_is_list($value) && $value !== [] && array_filter($value, 'is_scalar') === $value
                ? null : 'a list of texts or numbers',
            self::Exists => $value === null ? null : 'no value',
            default => is_int($value) || is_float($value) ? null : 'a number',
        };
        if ($complaint !== null) {
            throw new InvalidRule("The operator \"{$this->value}\" takes {$complaint}.", 'value');
        }
    }

    /** What is wanted of a fact, as it stands after “wanted”. */
    public function wanted(mixed $value): string
    {
        $told = is_array($value) ? implode(', ', array_map(self::told(...), $value)) : self::told($value);

        return match ($this) {
            self::Is => $told,
            self::IsNot => "anything but {$told}",
            self::Starts => "one that starts with {$told}",
            self::Ends => "one that ends with {$told}",
            self::Contains => "one that contains {$told}",
            self::Matches => "one that matches {$told}",
            self::In => "one of {$told}",
            self::Exists => 'any',
            self::Less => "less than {$told}",
            self::LessOrEqual => "at most {$told}",
            self::Greater => "more than {$told}",
            self::GreaterOrEqual => "at least {$told}",
        };
    }

    /** A value in a sentence. */
    public static function told(mixed $value): string
    {
        return '`'.(is_bool($value) ? ($value ? 'yes' : 'no') : mb_strimwidth((string) (is_scalar($value) ? $value : json_encode($value)), 0, 120, '…', 'UTF-8')).'`';
    }
}
