<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/**
 * What the parts of a rehearsal have found and proven, put together.
 *
 * @phpstan-type Told array{identity: string, severity: 'blocker'|'warning'|'note', link: string, words: string, goal: string|null, variant: string|null, screen: string|null, ...}
 * @phpstan-type Proven array{link: string, goal: string|null, variant: string|null, ...}
 * @phpstan-type Result array{findings: list<Told>, proofs: list<Proven>}
 */
final class Results
{
    private const SEVERITIES = ['blocker', 'warning', 'note'];

    /**
     * What was found on several screens is one thing.
     *
     * @param array<Told> $findings
     *
     * @return list<Told> each with the screens that it was met on, the gravest first
     */
    public static function merged(array $findings): array
    {
        $all = [];
        foreach ($findings as $one) {
            $same = $one['screen'] === null ? $one['identity'] : str_replace("|{$one['screen']}|", '||', $one['identity']);
            $all[$same] ??= [...$one, 'screens' => []];
            $one['screen'] === null || in_array($one['screen'], $all[$same]['screens'], true) || $all[$same]['screens'][] = $one['screen'];
        }
        $rank = static fn (array $one): int => (int) array_search($one['severity'], self::SEVERITIES, true);
        $all = array_values($all);
        usort($all, static fn (array $a, array $b): int => $rank($a) <=> $rank($b));

        return $all;
    }

    /**
     * What a rehearsal vouches for: of each link of the chain, what was proven and found there, and which goals are proven.
     *
     * @param list<Result> $results  of its parts
     * @param list<string> $variants keys of all of the experiment's
     *
     * @return array{links: array<string, array{proofs: int, blockers: list<string>, warnings: list<string>}>, goals: list<string>} a goal is proven that was reached in every variant, and of which nothing was found that blocks
     */
    public static function vouched(array $results, array $variants): array
    {
        $links = $reached = $missed = [];
        foreach ($results as $result) {
            foreach ($result['findings'] as $finding) {
                $missed[(string) $finding['goal']] = $finding['severity'] === 'blocker' || ($missed[(string) $finding['goal']] ?? false);
                $links[$finding['link']] ??= ['proofs' => 0, 'blockers' => [], 'warnings' => []];
                match ($finding['severity']) {
                    'blocker' => $links[$finding['link']]['blockers'][] = $finding['words'],
                    'warning' => $links[$finding['link']]['warnings'][] = $finding['words'],
                    default => null,
                };
            }
            foreach ($result['proofs'] as $proof) {
                $links[$proof['link']] ??= ['proofs' => 0, 'blockers' => [], 'warnings' => []];
                $links[$proof['link']]['proofs']++;
                $proof['goal'] === null || $reached[$proof['goal']][$proof['variant']] = true;
            }
        }
        $goals = array_keys(array_filter($reached, static fn (array $in, string $goal): bool => ! ($missed[$goal] ?? false) && array_diff($variants, array_map(strval(...), array_keys($in))) === [], ARRAY_FILTER_USE_BOTH));

        return ['links' => $links, 'goals' => array_map(strval(...), $goals)];
    }

    /**
     * What broke and what was mended since an earlier rehearsal. Findings are told apart by their code and what they are about.
     *
     * @param array<Told>  $before   findings
     * @param array<Told>  $after    findings
     * @param list<string> $variants that were looked at again
     * @param list<string> $screens  that were
     *
     * @return array{broke: list<Told>, mended: list<Told>, stayed: list<Told>}
     */
    public static function compared(array $before, array $after, array $variants, array $screens): array
    {
        [$old, $new] = [array_column($before, null, 'identity'), array_column($after, null, 'identity')];
        // What was not looked at again is not mended.
        $isSeenAgain = static fn (array $one): bool => ($one['variant'] === null || in_array($one['variant'], $variants, true)) && ($one['screen'] === null || in_array($one['screen'], $screens, true));

        return [
            'broke' => array_values(array_diff_key($new, $old)),
            'mended' => array_values(array_filter(array_diff_key($old, $new), $isSeenAgain)),
            'stayed' => array_values(array_intersect_key($new, $old)),
        ];
    }

    /** @return 'holds'|'broken'|'doubt'|'unseen' */
    public static function verdict(bool $isDone, int $blockers, int $warnings): string
    {
        return match (true) {
            $blockers > 0 => 'broken',
            ! $isDone => 'unseen',
            $warnings > 0 => 'doubt',
            default => 'holds',
        };
    }
}
