<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** Reads a rule from its decoded JSON form. */
final class RuleReader
{
    private const DEEPEST = 10;

    private const MOST_CONDITIONS = 200;

    private int $conditions = 0;

    private function __construct(private readonly ?Place $place)
    {
    }

    /**
     * @param Place|null $place where it will be evaluated: a fact that is never known there is refused; null: anywhere
     *
     * @throws InvalidRule with the path of the part at fault
     */
    public static function read(mixed $json, ?Place $place = null): Rule
    {
        return (new self($place))->part($json, '', 1);
    }

    private function part(mixed $json, string $path, int $depth): Rule
    {
        if ($depth > self::DEEPEST) {
            throw new InvalidRule('A rule may be nested '.self::DEEPEST.' deep.', $path);
        }
        if (! is_array($json) || ($json !== [] && array_is_list($json))) {
            throw new InvalidRule('A rule is an object with "all", "any", "not", or "fact" and "op".', $path);
        }
        foreach (['all', 'any', 'not'] as $word) {
            if (array_key_exists($word, $json)) {
                if (count($json) > 1) {
                    throw new InvalidRule("\"{$word}\" stands alone in its object.", $path);
                }

                return $this->combination($word, $json[$word], self::join($path, $word), $depth);
            }
        }

        return $this->condition($json, $path);
    }

    private function combination(string $word, mixed $json, string $path, int $depth): Rule
    {
        if ($word === 'not') {
            return new Not($this->part($json, $path, $depth + 1));
        }
        if (! is_array($json) || ! array_is_list($json)) {
            throw new InvalidRule("\"{$word}\" takes a list of rules.", $path);
        }
        $parts = [];
        foreach ($json as $i => $part) {
            $parts[] = $this->part($part, "{$path}.{$i}", $depth + 1);
        }

        return $word === 'all' ? Combination::all($parts) : Combination::any($parts);
    }

    /** @param array<mixed> $json */
    private function condition(array $json, string $path): Condition
    {
        if (++$this->conditions > self::MOST_CONDITIONS) {
            throw new InvalidRule('A rule may have '.self::MOST_CONDITIONS.' conditions.', $path);
        }
        $unknown = array_diff(array_keys($json), ['fact', 'op', 'value', 'ignore']);
        if ($unknown !== []) {
            throw new InvalidRule('A condition has "fact", "op", "value" and "ignore" only.', self::join($path, (string) reset($unknown)));
        }
        $fact = $json['fact'] ?? null;
        if (! is_string($fact)) {
            throw new InvalidRule('A condition names a fact, such as "url.path".', self::join($path, 'fact'));
        }
        $op = is_string($json['op'] ?? null) ? Op::tryFrom($json['op']) : null;
        if ($op === null) {
            $known = implode(', ', array_column(Op::cases(), 'value'));
            throw new InvalidRule("The operator is one of {$known}.", self::join($path, 'op'));
        }
        $ignore = $json['ignore'] ?? [];
        if (! is_array($ignore) || ! array_is_list($ignore) || array_filter($ignore, 'is_string') !== $ignore) {
            throw new InvalidRule('What is ignored is a list of "case" and "slash".', self::join($path, 'ignore'));
        }
        try {
            $condition = Condition::of($fact, $op, $json['value'] ?? null, $ignore);
            if ($this->place !== null && Fact::named($fact)?->isKnownAt($this->place) !== true) {
                throw new InvalidRule("\"{$fact}\" is not known {$this->place->words()}, so that this condition could never hold; use another fact here.", 'fact');
            }

            return $condition;
        } catch (InvalidRule $e) {
            throw $path === '' ? $e : $e->under($path);
        }
    }

    private static function join(string $path, string $name): string
    {
        return $path === '' ? $name : "{$path}.{$name}";
    }
}
