<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Inventory\PageCopies;
use App\Models\Experiment;
use App\Models\Site;
use App\ReadModel\Readings;
use App\ReadModel\Round;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Served;
use Pellix\Core\Experiments\TakenOver;
use Pellix\Core\InvalidInput;

/** Looks, whenever pages were inspected again, whether a site has taken over what experiments serve, or what briefs ask for. */
final class TakeoverRound implements Round
{
    private const MOST_PAGES = 50;

    /** @var array<int, string> site => what it was looked at for last */
    private array $made = [];

    public function __construct(private readonly PageCopies $copies)
    {
    }

    public function make(Site $site): bool
    {
        $wanted = self::wanted($site);
        $stamp = $wanted === [] ? '' : (string) json_encode([$wanted, DB::table('page_copies')->where('site_id', $site->id)->max('at')]);
        if (($this->made[$site->id] ?? '') === $stamp) {
            return false;
        }
        foreach ($wanted as [$id, $variant]) {
            $experiment = Experiment::query()->with('goals', 'revisions')->find($id);
            try {
                $experiment === null || Readings::keep($site->id, 'takeover', "{$id} {$variant}", $this->look($site, $experiment, $variant));
            } catch (InvalidInput $e) {
                report($e);
            }
        }
        $this->made[$site->id] = $stamp;

        return false;
    }

    /** @return list<array{int, string}> experiment and variant, of those that are served and of those that a brief is about */
    private static function wanted(Site $site): array
    {
        $kept = DB::table('experiments')->where('site_id', $site->id)->whereNotNull('kept_variant')->orderBy('id')->get(['id', 'kept_variant'])->map(static fn (object $one): array => [(int) $one->id, (string) $one->kept_variant])->all();
        $briefs = DB::table('briefs')->where('site_id', $site->id)->whereNotNull('experiment_id')->whereNull('revoked_at')->where('expires_at', '>', now('UTC')->format('Y-m-d H:i:s.v'))->orderBy('id')->limit(100)
            ->get(['experiment_id', 'variant'])->map(static fn (object $one): array => [(int) $one->experiment_id, (string) $one->variant])->all();

        return array_values(array_unique([...$kept, ...$briefs], SORT_REGULAR));
    }

    /** @return array<string, mixed> */
    private function look(Site $site, Experiment $experiment, string $variant): array
    {
        $changes = Served::by($experiment->declared(), $variant)->variant->made();
        $ids = DB::table('page_matches')->where('experiment_id', $experiment->id)->limit(self::MOST_PAGES)->pluck('page_id')->map(intval(...))->all();
        $pages = [];
        foreach ($this->copies->newest($site, $ids, self::MOST_PAGES, false) as $page) {
            $pages[] = ['url' => $page->url, 'state' => TakenOver::page($changes, $page->copy)];
        }

        return [
            'known' => count($ids), 'looked' => count($pages),
            'taken' => count(array_filter($pages, static fn (array $page): bool => $page['state'] === 'taken')),
            'pages' => $pages,
        ];
    }
}
