<?php

namespace App\Storage;

use App\Models\Site;
use Illuminate\Support\Facades\DB;

/** Everything of one site, deleted bit by bit, however much it is. */
final readonly class SiteData
{
    private const AT_ONCE = 1000;

    public function __construct(private Site $site)
    {
    }

    /**
     * Deletes for a while; what is made of events goes before them, and the site itself last.
     *
     * @param float $until Unix time
     *
     * @return bool whether everything is gone
     */
    public function delete(float $until): bool
    {
        // Twice: what somebody wrote meanwhile goes too.
        foreach ([1, 2] as $round) {
            foreach ($this->ofCounts() as $table) {
                if (! $this->empty($until, fn (): int => DB::delete("delete from `{$table}` where count_id in (select id from counts where site_id = ?) limit ".self::AT_ONCE, [$this->site->id]))) {
                    return false;
                }
            }
            // Counts name what the tables above are of: they go after those.
            foreach ([...array_diff($this->withSite(), ['counts', 'sites']), 'counts'] as $table) {
                if (! $this->empty($until, fn (): int => DB::delete("delete from `{$table}` where site_id = ? limit ".self::AT_ONCE, [$this->site->id]))) {
                    return false;
                }
            }
        }

        return DB::table('sites')->where('id', $this->site->id)->delete() === 1;
    }

    /** @param \Closure(): int $some deletes some, and says how many */
    private function empty(float $until, \Closure $some): bool
    {
        do {
            if (microtime(true) >= $until) {
                return false;
            }
            $gone = $some();
        } while ($gone === self::AT_ONCE);

        return true;
    }

    /** @return list<string> every table that says of which site its rows are, whichever was added last */
    private function withSite(): array
    {
        return $this->tables('site_id');
    }

    /** @return list<string> tables whose rows are of a counting, and say nothing of a site */
    private function ofCounts(): array
    {
        return array_values(array_diff($this->tables('count_id'), $this->withSite()));
    }

    /** @return list<string> */
    private function tables(string $column): array
    {
        return DB::table('information_schema.columns')->join('information_schema.tables', static fn ($join) => $join->on('tables.table_schema', 'columns.table_schema')->on('tables.table_name', 'columns.table_name'))
            ->where('columns.table_schema', DB::connection()->getDatabaseName())->where('table_type', 'BASE TABLE')->where('column_name', $column)->orderBy('columns.table_name')->pluck('columns.table_name')->all();
    }
}
