<?php

namespace App\Measures;

use App\Models\Site;
use Pellix\Core\Goals\NearMiss;
use Pellix\Core\Rules\PageRule;

/** Which pages of the inventory some page rules match, and which they narrowly miss. */
final readonly class KnownPages
{
    public const NAMED = 12;

    /** So many of those that match are told by their ids. */
    private const MOST_IDS = 2000;

    /**
     * @param list<string>                            $matching some of those that match
     * @param list<array{url: string, why: string}>   $near     some that nearly do, with the reason
     * @param int                                     $total    how many match
     * @param int                                     $known    how many there are
     * @param list<int>                               $ids      of those that match
     */
    private function __construct(public array $matching, public array $near, public int $total, public int $known, public array $ids)
    {
    }

    /** @param list<PageRule> $rules any of them may match; with none, nothing is looked at */
    public static function of(Site $site, array $rules): self
    {
        $matching = $near = $ids = [];
        $known = $total = 0;
        foreach ($rules === [] ? [] : $site->pages()->select('id', 'url')->orderBy('brief')->toBase()->cursor() as $page) {
            $known++;
            foreach ($rules as $rule) {
                if ($rule->matches($page->url)) {
                    $total++;
                    count($matching) < self::NAMED && $matching[] = $page->url;
                    count($ids) < self::MOST_IDS && $ids[] = (int) $page->id;

                    continue 2;
                }
            }
            $why = count($near) < self::NAMED ? NearMiss::why($rules[0]->rule, $page->url) : null;
            if ($why !== null) {
                $near[] = ['url' => $page->url, 'why' => $why];
            }
        }

        return new self($matching, $near, $total, $known, $ids);
    }

    /** @return array{matching: list<string>, matching_total: int, near: list<array{url: string, why: string}>, known: int} */
    public function toArray(): array
    {
        return ['matching' => $this->matching, 'matching_total' => $this->total, 'near' => $this->near, 'known' => $this->known];
    }
}
