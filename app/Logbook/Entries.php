<?php

namespace App\Logbook;

use App\Models\Activity;
use App\Models\Site;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Formats\Csv;

/** Reads the Logbook, a bounded part at a time. */
final class Entries
{
    private const PAGE = 50;
    private const AT_ONCE = 500;
    private const PEOPLE = 200;
    private const CSV = ['time', 'person', 'from', 'thing', 'key', 'name', 'what', 'field', 'before', 'after', 'note'];

    /**
     * @param array<string, mixed> $filters `thing`, `key`, `person`, `from`, `to`; null for any
     * @param int|null             $before  id of the last entry that was read
     *
     * @return array{entries: list<array<string, mixed>>, next: int|null, people: list<string>}
     */
    public static function page(Site $site, array $filters, ?int $before): array
    {
        $entries = self::filtered($site, $filters)->when($before !== null, static fn (Builder $query) => $query->where('id', '<', $before))->orderByDesc('id')->limit(self::PAGE + 1)->get();

        return [
            'entries' => $entries->take(self::PAGE)->map(self::entry(...))->values()->all(),
            'next' => $entries->count() > self::PAGE ? $entries[self::PAGE - 1]->id : null,
            'people' => self::people($site),
        ];
    }

    /**
     * @return list<string> who has entries, from one to the next by the index on site and person: however many entries each has
     */
    private static function people(Site $site): array
    {
        $people = [];
        do {
            $next = DB::table('activity_log')->where('site_id', $site->id)->when($people !== [], static fn ($query) => $query->where('person', '>', end($people)))->orderBy('person')->value('person');
            if ($next !== null) {
                $people[] = $next;
            }
        } while ($next !== null && count($people) < self::PEOPLE);

        return $people;
    }

    /** @param array<string, mixed> $filters */
    public static function writeCsv(Site $site, array $filters, string $to): void
    {
        $file = fopen($to, 'w');
        fputcsv($file, self::CSV, ',', '"', '', "\r\n");
        self::filtered($site, $filters)->chunkByIdDesc(self::AT_ONCE, static function ($entries) use ($file, $site): void {
            foreach ($entries as $entry) {
                $head = [$entry->created_at->setTimezone($site->time_zone)->format('Y-m-d\TH:i:sP'), $entry->person, $entry->log_name, $entry->thing, $entry->thing_key, $entry->thing_name, $entry->event];
                foreach ($entry->changesMade() ?: [['field' => '', 'before' => null, 'after' => null]] as $change) {
                    fputcsv($file, array_map(static fn (mixed $cell): string => Csv::harmless((string) $cell), [...$head, $change['field'], self::text($change['before']), self::text($change['after']), $entry->description]), ',', '"', '', "\r\n");
                }
            }
        });
        fclose($file);
    }

    /**
     * @param array<string, mixed> $filters
     *
     * @return Builder<Activity>
     */
    private static function filtered(Site $site, array $filters): Builder
    {
        return Activity::query()->where('site_id', $site->id)
            ->when($filters['thing'] !== null, static fn (Builder $query) => $query->where('thing', $filters['thing']))
            ->when($filters['key'] !== null, static fn (Builder $query) => $query->where('thing_key', $filters['key']))
            ->when($filters['person'] !== null, static fn (Builder $query) => $query->where('person', $filters['person']))
            ->when($filters['from'] !== null, static fn (Builder $query) => $query->where('created_at', '>=', $filters['from']->format('Y-m-d H:i:s.v')))
            ->when($filters['to'] !== null, static fn (Builder $query) => $query->where('created_at', '<', $filters['to']->format('Y-m-d H:i:s.v')));
    }

    /** @return array<string, mixed> */
    private static function entry(Activity $entry): array
    {
        return [
            'id' => $entry->id, 'at' => $entry->created_at, 'person' => $entry->person, 'from' => $entry->log_name, 'thing' => $entry->thing, 'key' => $entry->thing_key,
            'name' => $entry->thing_name, 'what' => $entry->event, 'changes' => $entry->changesMade(), 'note' => $entry->description,
        ];
    }

    private static function text(mixed $value): string
    {
        return is_string($value) ? $value : ($value === null ? '' : (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES));
    }
}
