<?php

namespace App\Inventory;

use App\Bounds\TimeLimit;
use App\Bounds\TookTooLong;
use App\Fetching\FetchFailed;
use App\Fetching\PageFetcher;
use App\Models\Finding;
use App\Models\Page;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Wiring\Findings\FindingCode;
use Pellix\Core\Wiring\Inspection\Delivery;
use Pellix\Core\Wiring\Inspection\Expectation;
use Pellix\Core\Wiring\Inspection\Inspector;
use Pellix\Core\Wiring\Inspection\Report;

/** Fetches and inspects known pages, keeps what was found, and notices what a page has lost since the last time. */
final readonly class PageInspector
{
    /** A page that takes longer is given up; what is linear in 5 MB takes a few. */
    private const LONGEST_SECONDS = 30;

    public function __construct(private PageFetcher $fetcher, private PageCopies $copies)
    {
    }

    /** @return Delivery|null what the server sent, where it sent something */
    public function inspect(Site $site, Page $page): ?Delivery
    {
        $delivery = null;
        $groups = $site->groups();
        $group = Inventory::groupOf($groups, $page->url);
        $unlinked = array_values(array_map(static fn ($one): PageRule => $one->pages, array_filter($groups, static fn ($one): bool => $one->unlinked)));
        try {
            $delivery = $this->fetcher->fetch($site, $page->url);
            $expected = Expectation::inGroup($site->key, $group, $unlinked)->servedFrom((string) config('app.url'))->accepting($site->keys());
            $report = TimeLimit::within(self::LONGEST_SECONDS, static fn (): Report => Inspector::inspectDelivery($delivery, $expected));
        } catch (TookTooLong) {
            $report = new Report([Delivery::tooCostly($page->url)]);
        } catch (FetchFailed $e) {
            $report = new Report([Delivery::unreachable($page->url, $e->getMessage())]);
        }
        if ($page->in_sitemap && $group?->unlinked === true) {
            $report = new Report([...$report->findings, Delivery::listed($page->url)]);
        }
        DB::transaction(fn () => $this->keep($page, $report, CarbonImmutable::now('UTC')));
        if ($delivery !== null) {
            $this->copies->keep($site, $page, $delivery);
            Outlines::keep($page, $delivery);
        }

        return $delivery;
    }

    /** A page whose inspection has ended a worker: it says so, and is left alone. */
    public function giveUp(Page $page): void
    {
        DB::transaction(fn () => $this->keep($page, new Report([Delivery::tooCostly($page->url)]), CarbonImmutable::now('UTC')));
    }

    private function keep(Page $page, Report $report, CarbonImmutable $now): void
    {
        $json = $report->toArray();
        $last = $page->inspections()->latest('last_at')->first();
        // Compared as they are kept: an object read back from the database may have its members in another order.
        if ($last !== null && $last->verdict === $json['verdict'] && $last->findings == $json['findings']) {
            $last->update(['last_at' => $now]);
        } else {
            $page->inspections()->create(['first_at' => $now, 'last_at' => $now, 'verdict' => $json['verdict'], 'findings' => $json['findings']]);
        }
        $faulty = $report->faulty();
        $this->notice($page, $faulty, $now);
        $page->update(['verdict' => $json['verdict'], 'faulty' => $faulty, 'inspected_at' => $now]);
    }

    /** @param list<string> $faulty */
    private function notice(Page $page, array $faulty, CarbonImmutable $now): void
    {
        // Of a page that cannot be had nobody knows what is on it.
        if (in_array('page', $faulty, true)) {
            return;
        }
        foreach ($page->inspected_at === null ? [] : array_diff($faulty, $page->faulty, in_array('page', $page->faulty, true) ? $faulty : []) as $part) {
            $isSnippet = $part === 'snippet';
            $code = $isSnippet ? FindingCode::CoverageLostSnippet : FindingCode::CoverageLostCode;
            Finding::query()->create([
                'site_id' => $page->site_id,
                'page_id' => $page->id,
                'code' => $code->value,
                'severity' => $code->severity()->value,
                'link' => $code->link()->value,
                'message' => $isSnippet
                    ? 'The snippet worked on this page at the last inspection and does not any more: nothing on it is counted or changed.'
                    : "The page had “{$part}” at the last inspection and has not any more.",
                'fix' => 'Look at what was changed on the page, put the code back, and inspect it again.',
                'since' => $page->inspected_at,
                'state' => 'open',
            ]);
        }
        if (! in_array('snippet', $faulty, true)) {
            Finding::query()->where('page_id', $page->id)->where('code', FindingCode::CoverageLostSnippet->value)->where('state', 'open')
                ->update(['state' => 'mended', 'note' => 'Found again on '.$now->format('j M Y, H:i').' UTC.']);
        }
        if (array_filter($faulty, static fn (string $part): bool => $part !== 'snippet') === []) {
            Finding::query()->where('page_id', $page->id)->where('code', FindingCode::CoverageLostCode->value)->where('state', 'open')
                ->update(['state' => 'mended', 'note' => 'Found again on '.$now->format('j M Y, H:i').' UTC.']);
        }
    }
}
