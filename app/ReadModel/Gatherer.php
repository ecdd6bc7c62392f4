<?php

namespace App\ReadModel;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Pages\PageKey;

/** Takes in what has arrived, a bounded part at a time: each step is one transaction, and leaves figures that agree with each other. */
final class Gatherer
{
    private const ARRIVALS = 400;
    private const VISITORS = 2000;

    private ?Definitions $definitions = null;

    /** @var array<int, true> counts whose figures have changed since they were last asked for */
    private array $changed = [];

    private float $behind = 0.0;

    public function __construct(private readonly Counts $counts)
    {
    }

    /**
     * Takes in the oldest arrivals of a site.
     *
     * @return int how many there were
     */
    public function step(Site $site): int
    {
        $definitions = $this->definitions($site);

        return DB::transaction(function () use ($site, $definitions): int {
            $state = ModelLock::take($site->id);
            if ($state->state === 'rebuilding' && (int) $state->total === 0) {
                // The old figures are still being cleared away.
                return 0;
            }
            $arrivals = DB::select(
                'select id, visitor, kind, content, received from arrivals force index (arrivals_sites) where site_id = ?'
                    .($state->state === 'rebuilding' ? ' and (visitor is null or visitor <= ?)' : '').' order by id limit '.self::ARRIVALS,
                $state->state === 'rebuilding' ? [$site->id, $state->position] : [$site->id],
            );
            if ($arrivals === []) {
                return 0;
            }
            $this->behind = max(0.0, microtime(true) - (float) CarbonImmutable::parse($arrivals[0]->received, 'UTC')->format('U.u'));
            $volumes = new Volumes($site->id, $site->page_parameters);
            $ids = [];
            foreach ($arrivals as $arrival) {
                $content = (array) json_decode($arrival->content, true);
                if ($arrival->kind === 'rejected') {
                    $volumes->reject($content, $arrival->received);
                } else {
                    $ids["#{$arrival->visitor}"] = [...$ids["#{$arrival->visitor}"] ?? [], ...$content];
                }
            }
            $this->take($site, $definitions, $ids, $volumes);
            Arrivals::remove(array_column($arrivals, 'id'));
            DB::table('model_states')->where('site_id', $site->id)->update(['gathered' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]);

            return count($arrivals);
        }, 3);
    }

    /**
     * Goes on with counts that are being built.
     *
     * @return bool whether there is more to do
     */
    public function build(Site $site): bool
    {
        if (! $this->counts->isBuilding($site)) {
            return false;
        }
        $definitions = $this->definitions($site);

        return DB::transaction(function () use ($site, $definitions): bool {
            if (ModelLock::take($site->id)->state === 'rebuilding') {
                return false;
            }
            $building = DB::table('counts')->where('site_id', $site->id)->where('state', 'building')->orderBy('position')->get();
            if ($building->isEmpty()) {
                return false;
            }
            $from = $building->first()->position;
            $since = $building->contains('since', null) ? null : $building->min('since');
            $visitors = DB::table('visitors')->where('site_id', $site->id)->where('visitor', '>', $from)
                ->when($since !== null, static fn ($q) => $q->where('last', '>=', $since))->orderBy('visitor')->limit(self::VISITORS)->pluck('visitor')->map(strval(...))->all();
            $this->note((new VisitorCount($definitions))->count($visitors === [] ? [] : StoredEvents::rows($site->id, $visitors)));
            foreach ($building as $count) {
                if (count($visitors) < self::VISITORS) {
                    $this->counts->finish((int) $count->id);
                    $this->changed[(int) $count->id] = true;
                } elseif ($count->position < end($visitors)) {
                    DB::table('counts')->where('id', $count->id)->update(['position' => end($visitors), 'done' => DB::raw('least(total, done + '.count($visitors).')')]);
                }
            }
            if (count($visitors) < self::VISITORS) {
                // What counts now is another set.
                $this->definitions = null;
            }

            return true;
        }, 3);
    }

    /** Everything that there is to do, and the readings of it: for tests, and for commands that wait for the result. */
    public function untilIdle(Site $site, Readings $readings): void
    {
        $site = $site->fresh() ?? $site;
        $this->counts->reconcile($site);
        $this->definitions = null;
        while ($this->step($site) > 0 || $this->build($site)) {
            // The next part.
        }
        $readings->refresh($site, null);
    }

    /**
     * Counts the visitors of some new events.
     *
     * @param array<string, list<string>> $ids visitor, with a mark before it => ids of its new events
     */
    private function take(Site $site, Definitions $definitions, array $ids, Volumes $volumes): void
    {
        $rows = $ids === [] ? [] : StoredEvents::rows($site->id, array_map(static fn (string $marked): string => substr($marked, 1), array_keys($ids)));
        foreach ($ids as $marked => $new) {
            $wanted = array_fill_keys(array_map(static fn (string $id): string => "#{$id}", $new), true);
            $found = array_values(array_filter($rows[$marked], static fn (object $row): bool => isset($wanted["#{$row->event_id}"])));
            // Of a visitor with a great many events not all are read.
            $volumes->add(count($found) === count($wanted) ? $found : StoredEvents::byIds($site->id, substr($marked, 1), $new));
        }
        $volumes->write();
        $this->note((new VisitorCount($definitions))->count($rows));
    }

    /**
     * Counts visitors of which nothing has been counted yet: for a rebuild.
     *
     * @param list<string> $visitors
     */
    public function takeWhole(Site $site, Definitions $definitions, array $visitors): void
    {
        $volumes = new Volumes($site->id, $site->page_parameters);
        $rows = StoredEvents::rows($site->id, $visitors);
        foreach ($rows as $own) {
            self::rekey($site, $own);
            $volumes->add($own);
        }
        $volumes->write();
        $this->note((new VisitorCount($definitions))->count($rows));
    }

    /**
     * Gives events the keys of their pages that they would get today.
     *
     * @param list<object> $rows
     */
    private static function rekey(Site $site, array $rows): void
    {
        foreach ($rows as $row) {
            // Only a query can make the difference.
            $key = str_contains($row->url, '?') ? PageKey::of($row->url, $site->page_parameters)->id : (int) $row->page;
            if ($key !== (int) $row->page) {
                $row->page = $key;
                DB::table('events')->where('site_id', $site->id)->where('visitor', $row->visitor)->where('time', $row->time)->where('event_id', $row->event_id)->update(['page' => $key]);
            }
        }
    }

    /** How many seconds ago what was taken in last had arrived. */
    public function behind(): float
    {
        return $this->behind;
    }

    /** @return list<int> the counts whose figures have changed since this was last asked */
    public function changed(): array
    {
        $changed = array_keys($this->changed);
        $this->changed = [];

        return $changed;
    }

    private function definitions(Site $site): Definitions
    {
        if ($this->definitions === null || $this->definitions->site->id !== $site->id || $this->definitions->version !== $site->definitions) {
            $this->definitions = Definitions::of($site);
        }

        return $this->definitions;
    }

    /** @param list<int> $counts */
    private function note(array $counts): void
    {
        $this->changed += array_fill_keys($counts, true);
    }
}
