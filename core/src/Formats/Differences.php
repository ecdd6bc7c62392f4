<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/** What differs between two states of a thing, field by field. */
final class Differences
{
    private const MOST = 200;
    private const LONGEST = 2000;

    /**
     * Objects are compared member by member; lists whose items have keys item by key, so that one more at the top is one more, and
     * other lists as a whole.
     *
     * @param array<mixed> $before
     * @param array<mixed> $after
     *
     * @return list<array{field: string, before: mixed, after: mixed}> null where it is not there; long texts are cut
     */
    public static function between(array $before, array $after): array
    {
        $found = [];
        self::compare($before, $after, '', $found);

        return array_slice($found, 0, self::MOST);
    }

    /**
     * Two steps as one: what a field was before the first, and is after the second; what came back to itself is no difference.
     *
     * @param list<array{field: string, before: mixed, after: mixed}> $first
     * @param list<array{field: string, before: mixed, after: mixed}> $second
     *
     * @return list<array{field: string, before: mixed, after: mixed}>
     */
    public static function joined(array $first, array $second): array
    {
        $all = [];
        foreach ([...$first, ...$second] as $one) {
            $all[$one['field']] = ['field' => $one['field'], 'before' => array_key_exists($one['field'], $all) ? $all[$one['field']]['before'] : $one['before'], 'after' => $one['after']];
        }

        return array_slice(array_values(array_filter($all, static fn (array $one): bool => ! Same::json($one['before'], $one['after']))), 0, self::MOST);
    }

    /** @param list<array{field: string, before: mixed, after: mixed}> $found */
    private static function compare(mixed $before, mixed $after, string $path, array &$found): void
    {
        if (Same::json($before, $after)) {
            return;
        }
        $parts = is_array($before) && is_array($after) ? self::parts($before, $after) : null;
        if ($parts === null) {
            $found[] = ['field' => $path, 'before' => self::cut($before), 'after' => self::cut($after)];

            return;
        }
        foreach (array_unique([...array_keys($parts[0]), ...array_keys($parts[1])]) as $name) {
            self::compare($parts[0][$name] ?? null, $parts[1][$name] ?? null, $path === '' ? (string) $name : "{$path}.{$name}", $found);
        }
    }

    /**
     * @param array<mixed> $before
     * @param array<mixed> $after
     *
     * @return array{array<mixed>, array<mixed>}|null null where they are to be compared as a whole
     */
    private static function parts(array $before, array $after): ?array
    {
        // An empty one is whichever the other is.
        $isList = [$before === [] ? array_is_list($after) : array_is_list($before), $after === [] ? array_is_list($before) : array_is_list($after)];
        if (! $isList[0] && ! $isList[1]) {
            return [$before, $after];
        }
        if ($isList !== [true, true]) {
            return null;
        }
        $keyed = [];
        foreach ([$before, $after] as $i => $list) {
            $keyed[$i] = [];
            foreach ($list as $item) {
                $key = is_array($item) ? $item['key'] ?? $item['name'] ?? null : null;
                if (! is_string($key) || isset($keyed[$i][$key])) {
                    return null;
                }
                $keyed[$i][$key] = $item;
            }
        }

        return $keyed;
    }

    private static function cut(mixed $value): mixed
    {
        if (is_string($value)) {
            return mb_strlen($value) > self::LONGEST ? mb_substr($value, 0, self::LONGEST).'…' : $value;
        }
        if (! is_array($value)) {
            return $value;
        }
        $json = (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PARTIAL_OUTPUT_ON_ERROR);

        return mb_strlen($json) > self::LONGEST ? mb_substr($json, 0, self::LONGEST).'…' : $value;
    }
}
