<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Browser\Tab;
use App\Rehearsals\Comparison;
use App\Rehearsals\Outcome;
use App\Rehearsals\Probe;
use App\Rehearsals\Stage;
use Pellix\Core\Chain\Link;
use Pellix\Core\Rehearsal\InstallationJudge;
use Pellix\Core\Rehearsal\PageLoad;
use Pellix\Core\Rehearsal\Paired;
use Pellix\Core\Rehearsal\Pictures;
use Pellix\Core\Rehearsal\Screen;

/** One page of a site with the snippet and without it, in pairs: what the code does where nothing is tested. */
final readonly class InstallationPart implements Part
{
    private const PAIRS = 3;

    public function play(Stage $stage, ?string $variant): Outcome
    {
        $outcome = new Outcome();
        $page = $stage->pages[(int) $variant];
        $stage->say("With the snippet and without: {$page}");
        $visitor = $stage->visitors->make(null, Screen::Desktop);
        $tab = $visitor->tab;
        $tab->prepare(Probe::watch([]));
        $tab->execute('Performance.enable', ['timeDomain' => 'threadTicks']);
        $with = $without = $pictures = $places = [];
        for ($i = 0; $i < self::PAIRS; $i++) {
            foreach ($i % 2 === 0 ? [true, false] : [false, true] as $isThere) {
                $load = $this->load($stage, $tab, $page, $isThere);
                if ($load === null) {
                    $outcome->noteAll($tab->watch, null, null);
                    $visitor->leave();

                    return $outcome;
                }
                $isThere ? $with[] = $load : $without[] = $load;
                $name = $isThere ? 'with' : 'without';
                $pictures[$name][] = (string) $tab->picture();
                $places[$name] = (array) $tab->evaluate('pellixWatch.asked.places()', true);
            }
        }
        $outcome->noteAll($tab->watch, null, null);
        $visitor->leave();
        // What the page does not show twice alike without the code is nobody's fault.
        $compared = Comparison::of([$pictures['without'][0], $pictures['without'][1], $pictures['with'][self::PAIRS - 1]], $stage->folder());
        $different = Pictures::unexpected($compared['boxes'], [], [], $places['with']);
        $compared['boxes'] === [] || $stage->keep("difference-page-{$variant}.png", 'image/png', $compared['picture']);
        $stage->keep("page-{$variant}.png", 'image/png', $pictures['with'][0]);
        foreach (InstallationJudge::judge($page, $with, $without, $different) as $finding) {
            $outcome->found($finding);
        }
        $busy = new Paired(array_map(static fn (PageLoad $one): float => $one->busy, $with), array_map(static fn (PageLoad $one): float => $one->busy, $without));
        $paint = new Paired(array_map(static fn (PageLoad $one): float => $one->largest, $with), array_map(static fn (PageLoad $one): float => $one->largest, $without));
        $outcome->figures = ['main_ms' => round($busy->median, 1), 'lcp_ms' => round($paint->median, 1), 'boxes' => count($compared['boxes'])];
        if ($outcome->findings === []) {
            $outcome->proven(Link::Snippet, ((string) preg_replace('~\Ahttps?://[^/?#]+~i', '', $page) ?: '/').': the same errors, the same requests and the same looks with the snippet and without; about '.round($busy->median).' ms of the main thread, '.round($paint->median).' ms of the largest paint ('.round($paint->least).' to '.round($paint->most).', an estimate).');
        }

        return $outcome;
    }

    private function load(Stage $stage, Tab $tab, string $page, bool $isThere): ?PageLoad
    {
        $stage->visitors->empty($tab, $isThere);
        $before = $tab->busySeconds();
        $tab->go($page);
        $settled = $tab->settle(10.0);
        $tab->attend(0.5);
        if ($tab->hangs || ! $settled || Outcome::isBroken($tab->watch)) {
            return null;
        }
        $told = (array) $tab->evaluate('pellixWatch.told()', true);
        $isOwn = static fn (string $text): bool => array_any($stage->files, static fn (string $one): bool => str_contains($text, $one));
        // That our file is held back on purpose is no error of the page's.
        $errors = array_map(static fn (array $line): string => (string) preg_replace('/\d{4,}/', '#', "{$line['text']} ({$line['url']}:{$line['line']})"), array_filter($tab->watch->console, static fn (array $line): bool => $line['level'] === 'error' && ! ($line['kind'] === 'network' && $isOwn("{$line['text']}{$line['url']}"))));
        $failed = array_map(static fn (array $one): string => (string) preg_replace('/[?#].*/s', '', $one['url']), array_filter($tab->watch->requests, static fn (array $one): bool => ($one['failed'] !== null || ($one['status'] ?? 200) >= 400) && ! $isOwn($one['url']) && ! str_starts_with($one['url'], $stage->pellix)));

        return new PageLoad(array_values($errors), array_values($failed), array_sum(array_column($told['shifts'] ?? [], 'value')), (float) ($told['largest'] ?? 0), 1000 * max(0.0, $tab->busySeconds() - $before));
    }
}
