<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Formats\Moment;
use Pellix\Core\Formats\Same;

/** A numbered state of an experiment: what it declared, and at which stage of its life it was, from one moment on. */
final readonly class Revision
{
    /** @param array<string, mixed> $declared the experiment file of that time, without epochs, start and end */
    public function __construct(public int $number, public \DateTimeImmutable $from, public Stage $stage, public array $declared)
    {
    }

    /**
     * When the experiment ran.
     *
     * @param list<self> $revisions in the order of their numbers
     */
    public static function periods(array $revisions): Periods
    {
        $periods = [];
        $open = null;
        foreach ($revisions as $revision) {
            if ($revision->stage === Stage::Running) {
                $open ??= $revision->from;
            } elseif ($open !== null) {
                $periods[] = [$open, $revision->from];
                $open = null;
            }
        }

        return new Periods($open === null ? $periods : [...$periods, [$open, null]]);
    }

    /**
     * The epochs of an experiment: one begins when it first runs, and whenever share, weights, page rule, audience rule or what
     * its variants show are no longer what they were. What was changed while it was paused counts from when it runs again.
     *
     * @param list<self> $revisions in the order of their numbers
     *
     * @return list<array<string, mixed>> as in the experiment file; each with its own rules, where they are not what the experiment declares now
     */
    public static function epochs(array $revisions): array
    {
        $epochs = [];
        $last = null;
        $current = self::met($revisions === [] ? [] : $revisions[count($revisions) - 1]->declared);
        foreach ($revisions as $revision) {
            if ($revision->stage !== Stage::Running) {
                continue;
            }
            $now = self::met($revision->declared);
            if (! Same::json($now, $last)) {
                $epochs[] = ['from' => $revision->from, ...$now];
                $last = $now;
            }
        }

        return array_map(static fn (array $epoch): array => array_filter([
            'from' => Moment::format($epoch['from']), 'share' => $epoch['share'], 'weights' => $epoch['weights'],
            'pages' => $epoch['pages'] == $current['pages'] ? null : $epoch['pages'],
            'audience' => $epoch['audience'] == $current['audience'] ? null : ($epoch['audience'] ?? ['all' => []]),
        ], static fn (mixed $part): bool => $part !== null), $epochs);
    }

    /**
     * What differs between two declarations so that a new epoch begins.
     *
     * @param array<string, mixed> $before
     * @param array<string, mixed> $after
     *
     * @return list<string> of `share`, `pages`, `audience`, `weights`, `shown`
     */
    public static function differing(array $before, array $after): array
    {
        [$was, $is] = [self::met($before), self::met($after)];

        return array_values(array_filter(array_keys($was), static fn (string $part): bool => ! Same::json($was[$part], $is[$part])));
    }

    /**
     * @param array<string, mixed> $declared
     *
     * @return array{share: mixed, pages: mixed, audience: mixed, weights: array<string, mixed>, shown: array<string, mixed>}
     */
    private static function met(array $declared): array
    {
        /** @var list<array{key: string, weight: int|float, changes?: mixed, target?: mixed, moves?: mixed}> $variants */
        $variants = $declared['variants'] ?? [];

        return [
            'share' => $declared['share'] ?? 1,
            'pages' => $declared['pages'] ?? ['all' => []],
            'audience' => $declared['audience'] ?? null,
            'weights' => array_map(static fn (int|float $weight): float => (float) $weight, array_column($variants, 'weight', 'key')),
            'shown' => array_map(static fn (array $variant): array => [$variant['changes'] ?? [], $variant['target'] ?? null, $variant['moves'] ?? false], array_column($variants, null, 'key')),
        ];
    }
}
