<?php

namespace App\ReadModel;

use App\Models\Experiment;
use App\Models\Page;
use App\Models\Site;
use Illuminate\Support\Facades\DB;
use Pellix\Core\InvalidInput;
use Pellix\Core\Rules\PageRule;

/** What inspections found on the known pages that each experiment is for: which pages those are is kept beside, page by page. */
final class InspectedPages
{
    private const AT_ONCE = 2000;

    /** @var array<int, string> site => what the figures were last made from */
    private array $made = [];

    /** @return bool whether there is more to do */
    public function refresh(Site $site): bool
    {
        $rules = $this->rules($site);
        if ($this->match($site, $rules)) {
            return true;
        }
        $stamp = json_encode([DB::table('pages')->where('site_id', $site->id)->max('inspected_at'), DB::table('pages')->where('site_id', $site->id)->count(), array_map(static fn (PageRule $rule): array => $rule->rule->toArray(), $rules)]);
        if (($this->made[$site->id] ?? null) === $stamp) {
            return false;
        }
        foreach (array_keys($rules) as $experiment) {
            Readings::keep($site->id, 'inspected', (string) $experiment, $this->figures($experiment));
        }
        $this->made[$site->id] = (string) $stamp;

        return false;
    }

    /** @return array<int, PageRule> experiment => its page rule, of those that can be read */
    private function rules(Site $site): array
    {
        $rules = [];
        foreach (Experiment::query()->where('site_id', $site->id)->get(['id', 'pages']) as $experiment) {
            try {
                $rules[$experiment->id] = PageRule::read($experiment->pages);
            } catch (InvalidInput) {
                // Its own figures say that it cannot be read.
            }
        }

        return $rules;
    }

    /**
     * Finds the pages of experiments whose rule is new, and the experiments of pages that are.
     *
     * @param array<int, PageRule> $rules
     *
     * @return bool whether there is more to do
     */
    private function match(Site $site, array $rules): bool
    {
        $kept = Readings::all($site->id, 'pages-of');
        foreach ($rules as $experiment => $rule) {
            if (($kept[(string) $experiment] ?? null) != ['rule' => $rule->rule->toArray()]) {
                DB::table('page_matches')->where('experiment_id', $experiment)->delete();
                Page::query()->where('site_id', $site->id)->where('matched', true)->toBase()->select('id', 'url')->orderBy('id')->chunk(self::AT_ONCE, fn ($pages) => $this->keep([$experiment => $rule], $pages->all()));
                Readings::keep($site->id, 'pages-of', (string) $experiment, ['rule' => $rule->rule->toArray()]);
                unset($this->made[$site->id]);
            }
        }
        $fresh = Page::query()->where('site_id', $site->id)->where('matched', false)->toBase()->limit(self::AT_ONCE)->get(['id', 'url'])->all();
        $this->keep($rules, $fresh);
        Page::query()->whereIn('id', array_column($fresh, 'id'))->update(['matched' => true]);

        return count($fresh) === self::AT_ONCE;
    }

    /**
     * @param array<int, PageRule> $rules
     * @param array<object>        $pages
     */
    private function keep(array $rules, array $pages): void
    {
        $rows = [];
        foreach ($pages as $page) {
            foreach ($rules as $experiment => $rule) {
                if ($rule->matches($page->url)) {
                    $rows[] = ['experiment_id' => $experiment, 'page_id' => $page->id];
                }
            }
        }
        foreach (array_chunk($rows, 1000) as $part) {
            DB::table('page_matches')->insertOrIgnore($part);
        }
    }

    /** @return array<string, mixed> */
    private function figures(int $experiment): array
    {
        $pages = DB::table('page_matches')->join('pages', 'pages.id', 'page_id')->where('experiment_id', $experiment);
        $isGone = "json_contains(faulty, '\"page\"')";
        $isFaulty = "not {$isGone} and json_contains(faulty, '\"snippet\"')";
        $row = (clone $pages)->selectRaw("count(*) as known, count(inspected_at) as inspected, coalesce(sum(inspected_at is not null and {$isGone}), 0) as unreachable, coalesce(sum(inspected_at is not null and {$isFaulty}), 0) as faulty, max(inspected_at) as last")->first();
        $example = $row->unreachable + $row->faulty === 0 ? null : (clone $pages)->whereNotNull('inspected_at')->whereRaw("({$isGone} or json_contains(faulty, '\"snippet\"'))")->orderBy('pages.id')->value('url');

        return ['known' => (int) $row->known, 'inspected' => (int) $row->inspected, 'unreachable' => (int) $row->unreachable, 'faulty' => (int) $row->faulty, 'example' => $example, 'last' => $row->last];
    }
}
