<?php

namespace App\Briefs;

use App\Inventory\PageCopies;
use App\Models\Brief;
use App\Models\Experiment;
use App\Models\Site;
use App\ReadModel\Readings;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\Served;
use Pellix\Core\Experiments\TakenOver;
use Pellix\Core\InvalidInput;

/** What a brief about the end of an experiment says: what the site itself is to show from now on, and how far it does. */
final readonly class ChangeBrief
{
    /**
     * @param list<array{kind: string, selector: string, before: string|null, after: string}> $changes
     * @param list<array{url: string, state: string}>                                         $pages
     */
    private function __construct(
        public string $site,
        public string $zone,
        public string $message,
        public string $author,
        public CarbonImmutable $now,
        public CarbonImmutable $expires,
        public string $token,
        public string $experiment,
        public string $variant,
        public ?string $target,
        public array $changes,
        public array $pages,
        public int $taken,
        public int $known,
        public bool $isServed,
    ) {
    }

    /**
     * What stands at the places of the changes while the brief is made: later the site may have taken them over.
     *
     * @return array{changes: list<array{kind: string, selector: string, before: string|null, after: string}>, target: string|null, name: string}
     *
     * @throws ValidationException
     */
    public static function content(Site $site, Experiment $experiment, string $variant, PageCopies $copies): array
    {
        try {
            $served = Served::by($experiment->declared(), $variant)->variant;
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages(['variant' => $e->getMessage()]);
        }
        $ids = DB::table('page_matches')->where('experiment_id', $experiment->id)->limit(20)->pluck('page_id')->map(intval(...))->all();
        $page = $copies->newest($site, $ids, 1, false)[0] ?? null;

        return [
            'changes' => array_map(static fn (Change $change): array => [
                'kind' => $change->kind->label(), 'selector' => $change->selector ?? '', 'before' => $page === null ? null : TakenOver::before($change, $page->copy), 'after' => TakenOver::after($change),
            ], $served->made()),
            'target' => $served->target,
            'name' => $served->name,
        ];
    }

    public static function of(Brief $brief, Experiment $experiment, CarbonImmutable $now): self
    {
        $site = $brief->site;
        $seen = self::takeover($experiment, (string) $brief->variant);

        return new self(
            $site->name,
            $site->time_zone,
            $brief->message,
            $brief->author,
            $now->setTimezone($site->time_zone),
            $brief->expires_at->setTimezone($site->time_zone),
            $brief->token,
            $experiment->name,
            $brief->content['name'],
            $brief->content['target'],
            $brief->content['changes'],
            array_map(static fn (array $page): array => ['url' => $page['url'], 'state' => ['taken' => 'shows it itself', 'open' => 'not yet', 'unknown' => 'only to be seen in a browser'][$page['state']]], $seen['pages']),
            $seen['taken'],
            $seen['known'],
            $experiment->kept_variant !== null,
        );
    }

    /** @return array{known: int, looked: int, taken: int, pages: list<array{url: string, state: string}>} how far the site has taken it over, as it was looked at last */
    public static function takeover(Experiment $experiment, string $variant): array
    {
        return Readings::one($experiment->site_id, 'takeover', "{$experiment->id} {$variant}") ?? ['known' => 0, 'looked' => 0, 'taken' => 0, 'pages' => []];
    }
}
