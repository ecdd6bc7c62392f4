<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

/** What visitors have in common: dimensions and their values, and two dimensions together. */
final class Keys
{
    private const DIMENSIONS = ['device', 'browser', 'source', 'country'];

    private const PAIRS = [['browser', 'device'], ['browser', 'country'], ['browser', 'source'], ['country', 'device'], ['device', 'source'], ['country', 'source']];

    /** @var array<string, list<string>> */
    private static array $known = [];

    /**
     * @param string|null $event name of an event (as a cell), where it is about one: then without most of the pairs, since events are many
     *
     * @return list<string> `''` for everybody, then `dimension␟value`, and of two dimensions `browser+device␟safari+mobile`
     */
    public static function of(string $context, string $page, bool $isReturning, ?string $event = null): array
    {
        if (count(self::$known) > 20_000) {
            self::$known = [];
        }

        return self::$known["{$context}\n{$page}\n{$isReturning}\n{$event}"] ??= [...self::make($context, $page, $isReturning, $event === null), ...($event === null ? [] : [self::key('event', Row::text($event))])];
    }

    /** @return list<string> */
    private static function make(string $context, string $page, bool $isReturning, bool $withPairs): array
    {
        $keys = [''];
        $parts = array_combine(self::DIMENSIONS, array_slice(explode(Row::PART, $context) + ['', '', '', ''], 0, 4));
        foreach ($parts as $dimension => $value) {
            if ($value !== '') {
                $keys[] = self::key($dimension, Row::text($value));
            }
        }
        foreach ($withPairs ? self::PAIRS : [['browser', 'device']] as [$one, $other]) {
            if ($parts[$one] !== '' && $parts[$other] !== '') {
                $keys[] = self::key("{$one}+{$other}", Row::text($parts[$one]).'+'.Row::text($parts[$other]));
            }
        }
        $keys[] = self::key('page', $page);
        $keys[] = self::key('host', strtok($page, '/') ?: $page);
        $keys[] = self::key('visitor', $isReturning ? 'returning' : 'new');

        return $keys;
    }

    public static function key(string $dimension, string $value): string
    {
        return $dimension.Row::PART.$value;
    }

    /** @return array{string, string} dimension and value */
    public static function parts(string $key): array
    {
        return explode(Row::PART, $key, 2) + ['', ''];
    }

    /** Of a key of two dimensions, one of which has a value: the key of the other. Null where it has not. */
    public static function beside(string $key, string $dimension, string $value): ?string
    {
        [$dimensions, $values] = self::parts($key);
        $both = explode('+', $dimensions, 2);
        if (count($both) < 2 || ! in_array($dimension, $both, true)) {
            return null;
        }
        if ($both[0] === $dimension) {
            return str_starts_with($values, "{$value}+") ? self::key($both[1], substr($values, strlen($value) + 1)) : null;
        }

        return str_ends_with($values, "+{$value}") ? self::key($both[0], substr($values, 0, -strlen($value) - 1)) : null;
    }
}
