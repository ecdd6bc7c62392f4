<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Inventory\PageCopies;
use App\Measures\KnownPages;
use App\Models\Experiment;
use App\Models\Page;
use App\Models\Site;
use Pellix\Core\Experiments\Advice\Advice;
use Pellix\Core\Experiments\Advice\ChangeAdvice;
use Pellix\Core\Experiments\Advice\CopiedPage;
use Pellix\Core\Experiments\Advice\DefinitionAdvice;
use Pellix\Core\Experiments\Advice\PlacedChange;
use Pellix\Core\Experiments\Advice\SelectorAdvice;
use Pellix\Core\Experiments\Advice\TargetAdvice;
use Pellix\Core\Experiments\Advice\TogetherAdvice;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\InvalidExperiment;
use Pellix\Core\Experiments\NamingPattern;
use Pellix\Core\InvalidInput;
use Pellix\Core\Pages\PageCopy;
use Pellix\Core\Rules\PageRule;

/** Looks an experiment over as it is written: its selectors on the pages as they were inspected, and whatever is worth a second look. */
final readonly class AdviceTrial
{
    /** Selectors are looked for on so many pages. */
    private const PAGES = 3;

    private const LINES = 5;
    private const MOST_SELECTORS = 300;

    /** So many changes are looked at in all. */
    private const MOST_CHANGES = 300;

    public function __construct(private PageCopies $copies, private TargetsSeen $targets)
    {
    }

    /**
     * @param array<string, mixed> $written an experiment as it is written, whole or not, with its `key` and `revision`
     *
     * @return array<string, mixed>
     */
    public function of(Site $site, array $written): array
    {
        [$advice, $copies, $changes] = $this->look($site, $written);

        return [
            'revision' => $written['revision'],
            'advice' => array_map(static fn (Advice $one): array => $one->toArray(), $advice),
            'selectors' => self::selectors($changes, $copies),
        ];
    }

    /**
     * @param array<string, mixed> $written
     *
     * @return array{list<Advice>, list<CopiedPage>, list<PlacedChange>} advice, the newest copies of its pages, and its changes
     */
    public function look(Site $site, array $written): array
    {
        $rule = self::pages($written);
        $known = KnownPages::of($site, $rule === null ? [] : [$rule]);
        $copies = $this->copies->newest($site, $known->ids, self::PAGES);
        $changes = array_slice(PlacedChange::all((array) ($written['variants'] ?? [])), 0, self::MOST_CHANGES);
        $others = Beside::of($site, (string) $written['key'], ['running']);
        $first = $copies[0] ?? null;
        $advice = [
            ...DefinitionAdvice::of($written, self::naming($site), $site->cookie_days, $rule === null ? null : $known->total, $known->known, $this->taken($site, $written)),
            ...SelectorAdvice::of($changes, $first),
            ...($first === null ? [] : ChangeAdvice::of($changes, $first)),
            ...TogetherAdvice::inVariants($changes, array_map(static fn (mixed $variant): string => (string) ($variant['name'] ?? $variant['key'] ?? ''), (array) ($written['variants'] ?? [])), $first),
            ...TogetherAdvice::withOthers($changes, $others, $this->shared($site, $others, $known->ids), $first),
            ...TargetAdvice::of($this->targets->of($site, $written, $rule, $others)),
        ];

        return [$advice, $copies, $changes];
    }

    public static function naming(Site $site): ?NamingPattern
    {
        try {
            return $site->naming === null ? null : NamingPattern::read($site->naming);
        } catch (InvalidExperiment) {
            return null;
        }
    }

    /** @param array<string, mixed> $written */
    private static function pages(array $written): ?PageRule
    {
        try {
            return PageRule::read($written['pages'] ?? ['all' => []]);
        } catch (InvalidInput) {
            return null;
        }
    }

    /**
     * @param list<Declared> $others
     * @param list<int>      $pages  ids of the pages that the experiment is for
     *
     * @return array<string, string> experiment key => address of a page that both are for
     */
    private function shared(Site $site, array $others, array $pages): array
    {
        $shared = [];
        foreach ($others === [] ? [] : Page::query()->where('site_id', $site->id)->whereIn('id', $pages)->orderBy('brief')->pluck('url') as $url) {
            foreach ($others as $other) {
                if (! isset($shared[$other->key]) && $other->pages->matches($url)) {
                    $shared[$other->key] = $url;
                }
            }
        }

        return $shared;
    }

    /** @param array<string, mixed> $written */
    private function taken(Site $site, array $written): float
    {
        $group = $written['group']['key'] ?? null;

        return ! is_string($group) ? 0.0 : (float) Experiment::query()->where('site_id', $site->id)->where('group_key', $group)->where('key', '<>', $written['key'])->whereIn('state', ['running', 'paused'])->sum('share');
    }

    /**
     * @param list<PlacedChange> $changes
     * @param list<CopiedPage>   $copies
     *
     * @return list<array{field: string, selector: string, pages: list<array{url: string, found: int|null, lines: list<array{line: int, brief: string}>}>}>
     */
    private static function selectors(array $changes, array $copies): array
    {
        $all = [];
        foreach ($changes as $placed) {
            foreach ($placed->selectors() as $member => $selector) {
                $all[] = ['field' => $placed->field($member), 'selector' => $selector, 'pages' => array_map(static function (CopiedPage $page) use ($selector): array {
                    $found = $page->copy->find($selector);

                    return [
                        'url' => $page->url,
                        'found' => $found === null ? null : count($found),
                        'lines' => array_map(static fn (\DOMElement $element): array => ['line' => PageCopy::line($element), 'brief' => PageCopy::brief($element)], array_slice($found ?? [], 0, self::LINES)),
                    ];
                }, $copies)];
            }
        }

        return array_slice($all, 0, self::MOST_SELECTORS);
    }
}
