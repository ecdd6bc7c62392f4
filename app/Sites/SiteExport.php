<?php

namespace App\Sites;

use App\Audits\StoredRow;
use App\Models\EventDefinition;
use App\Models\Experiment;
use App\Models\Goal;
use App\Models\Site;
use Generator;
use Illuminate\Support\Facades\DB;

/** Gives a site out: what was declared as one object, and its events as an event log (docs/formats.md). */
final readonly class SiteExport
{
    private const AT_ONCE = 1000;

    public function __construct(private Site $site)
    {
    }

    /** @return array<string, mixed> without events */
    public function declared(): array
    {
        return [
            'pellix' => 1,
            'site' => $this->site->only(['key', 'name', 'hosts', 'time_zone', 'currency', 'cookie_days', 'session_minutes', 'srm_alpha', 'fresh_seconds', 'two_people', 'consent_mode', 'honour_gpc', 'data_layer', 'data_events', 'page_parameters', 'page_groups']),
            // Without marks: whoever has one is taken for one of the site's own people.
            'internal' => array_diff_key(InternalRules::of($this->site)->toArray(), ['marks' => 0]),
            'tags' => array_values($this->site->tags),
            'goals' => $this->site->goals()->orderBy('id')->get()->map(static fn (Goal $one): array => $one->definition)->all(),
            'events' => $this->site->eventDefinitions()->orderBy('name')->get()->map(static fn (EventDefinition $one): array => $one->only(['name', 'meaning', 'sent_from', 'schema', 'examples']))->all(),
            'experiments' => $this->site->experiments()->orderBy('id')->get()->map(static fn (Experiment $one): array => $one->file())->all(),
        ];
    }

    /** @return Generator<int, array<string, mixed>> events as an event log has them, visitor by visitor, from one index page to the next */
    public function events(): Generator
    {
        $after = ['', '1000-01-01', ''];
        do {
            $rows = DB::select('select '.StoredRow::COLUMNS.' from events where site_id = ? and (visitor > ? or (visitor = ? and (time > ? or (time = ? and event_id > ?)))) order by visitor, time, event_id limit '.self::AT_ONCE, [
                $this->site->id, $after[0], $after[0], $after[1], $after[1], $after[2],
            ]);
            foreach ($rows as $row) {
                $after = [$row->visitor, $row->time, $row->event_id];
                yield StoredRow::event(array_values((array) $row));
            }
        } while (count($rows) === self::AT_ONCE);
    }
}
