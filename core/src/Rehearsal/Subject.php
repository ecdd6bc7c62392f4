<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/**
 * What a rehearsal vouches for, as short prints, so that it can be told what has changed since.
 *
 * @phpstan-type Prints array{variants?: array<string, string>, goals?: array<string, string>, rules?: string, wiring?: int, ...}
 */
final class Subject
{
    /**
     * @param Prints       $then of variants and goals by key, of rules and wiring
     * @param Prints       $now
     * @param list<string> $pages paths of pages that are built otherwise than they were
     *
     * @return list<string> what is not as it was, in words
     */
    public static function changed(array $then, array $now, array $pages = []): array
    {
        $changed = [];
        foreach (['variants' => 'variant', 'goals' => 'goal'] as $kind => $word) {
            foreach (($now[$kind] ?? []) as $key => $print) {
                ($then[$kind][$key] ?? null) === $print || $changed[] = "{$word} {$key}";
            }
            foreach (array_diff_key($then[$kind] ?? [], $now[$kind] ?? []) as $key => $print) {
                $changed[] = "{$word} {$key}, which is no more";
            }
        }
        ($then['rules'] ?? null) === ($now['rules'] ?? null) || $changed[] = 'who may enter, and where';
        ($then['wiring'] ?? null) === ($now['wiring'] ?? null) || $changed[] = 'the site’s tags';

        return [...$changed, ...array_map(static fn (string $page): string => "the page {$page}", $pages)];
    }

    public static function print(mixed $of): string
    {
        return substr(hash('sha256', (string) json_encode($of)), 0, 16);
    }
}
