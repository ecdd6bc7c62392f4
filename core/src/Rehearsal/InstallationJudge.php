<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/** What a site's code does to a page on which nothing is tested: errors, layout and time, with the snippet and without it. */
final class InstallationJudge
{
    /** A sum of layout shifts that is larger by this is seen (common practice: 0.1 is the limit of "good"; no source for the half). */
    private const SHIFT = 0.05;

    /** Slower by so much in every pair is no accident of this machine (common practice, no source). */
    private const SLOWER_MS = 200.0;

    /**
     * @param non-empty-list<PageLoad> $with    one for each pair
     * @param non-empty-list<PageLoad> $without the same number
     * @param list<array{box: array{0: int, 1: int, 2: int, 3: int}, element: string}> $different rectangles that look different, beyond what the page itself does not show twice alike
     *
     * @return list<Finding>
     */
    public static function judge(string $page, array $with, array $without, array $different): array
    {
        $found = [];
        // What happens once may be the page's own moods: only what is there with the code each time, and never without it, is ours.
        $errors = array_values(array_diff(self::always($with, static fn (PageLoad $one): array => $one->errors), self::ever($without, static fn (PageLoad $one): array => $one->errors)));
        if ($errors !== []) {
            $found[] = new Finding(CheckCode::SnippetErrors, self::path($page).' has '.count($errors).' more '.(count($errors) === 1 ? 'error' : 'errors').' in the console with the snippet.', $errors[0], 'See what it says; without the snippet it is not there.', evidence: ['step' => $page, 'errors' => array_slice($errors, 0, 5)]);
        }
        $failed = array_values(array_diff(self::always($with, static fn (PageLoad $one): array => $one->failed), self::ever($without, static fn (PageLoad $one): array => $one->failed)));
        if ($failed !== []) {
            $found[] = new Finding(CheckCode::SnippetUnreachable, self::path($page).' does not load '.count($failed).(count($failed) === 1 ? ' thing' : ' things').' with the snippet that it loads without.', $failed[0], 'See what the snippet or a tag does to these requests.', evidence: ['step' => $page, 'failed' => array_slice($failed, 0, 5)]);
        }
        if ($different !== []) {
            $named = array_map(static fn (array $one): string => ($one['element'] === '' ? 'something' : $one['element'])." ({$one['box'][2]} × {$one['box'][3]} at {$one['box'][0]}, {$one['box'][1]})", array_slice($different, 0, 3));
            $found[] = new Finding(CheckCode::InstallationLooks, self::path($page).' looks different with the snippet: '.implode('; ', $named).'.', 'Nothing is tested there: a tag or the guard does it.', 'Look at the outlined picture, and see which tag is on this page.', evidence: ['step' => $page]);
        }
        $shift = new Paired(self::of($with, static fn (PageLoad $one): float => $one->shifted), self::of($without, static fn (PageLoad $one): float => $one->shifted));
        if ($shift->least > self::SHIFT) {
            $found[] = new Finding(CheckCode::InstallationLooks, self::path($page).' moves while it loads, and does not without the snippet: layout shifts are larger by '.round($shift->median, 3).'.', '', 'See which tag puts something in above what is there.', evidence: ['step' => "{$page} shifts", 'shift' => $shift->median]);
        }
        $paint = new Paired(self::of($with, static fn (PageLoad $one): float => $one->largest), self::of($without, static fn (PageLoad $one): float => $one->largest));
        if ($paint->least > self::SLOWER_MS) {
            $found[] = new Finding(CheckCode::InstallationSlow, self::path($page).' shows its largest part '.round($paint->median).' ms later with the snippet (an estimate).', 'In each of '.count($with).' pairs it was later by '.round($paint->least).' to '.round($paint->most).' ms.', 'See what its tags do before the page is shown.', evidence: ['step' => $page, 'median' => $paint->median]);
        }

        return $found;
    }

    /**
     * @param list<PageLoad> $loads
     * @param callable(PageLoad): list<string> $of
     *
     * @return list<string> what every load has
     */
    private static function always(array $loads, callable $of): array
    {
        $all = array_map($of, $loads);

        return array_values(array_unique(array_intersect(...$all, ...[$all[0] ?? []])));
    }

    /**
     * @param list<PageLoad> $loads
     * @param callable(PageLoad): list<string> $of
     *
     * @return list<string> what any of them has
     */
    private static function ever(array $loads, callable $of): array
    {
        return array_values(array_unique(array_merge(...array_map($of, $loads))));
    }

    /**
     * @param non-empty-list<PageLoad> $loads
     * @param callable(PageLoad): float $of
     *
     * @return non-empty-list<float>
     */
    private static function of(array $loads, callable $of): array
    {
        return array_map($of, $loads);
    }

    private static function path(string $page): string
    {
        return (string) preg_replace('~\Ahttps?://[^/?#]+~i', '', $page) ?: '/';
    }
}
