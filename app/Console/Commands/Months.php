<?php

namespace App\Console\Commands;

use App\Models\Experiment;
use App\ReadModel\Definitions;
use App\Storage\EventMonths;
use Carbon\CarbonImmutable;
use Illuminate\Console\Command;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\ClockShift;

class Months extends Command
{
    /** The ledger holds ids to once for as long as events may come late, and as long again. */
    private const LEDGER_SECONDS = 2 * ClockShift::LATEST_SECONDS;

    private const AT_ONCE = 5000;

    protected $signature = 'pellix:months {--drop= : a month whose events are dropped, such as 2026-03}';

    protected $description = 'Prepares the months to come, forgets old event ids, and lists the months that events are kept in; or drops one';

    public function handle(EventMonths $months): int
    {
        $now = CarbonImmutable::now('UTC');
        $drop = $this->option('drop');
        if ($drop === null) {
            $months->prepare($now, $now);
            $this->forgetIds($now);
            array_map($this->line(...), $months->all());

            return 0;
        }
        $complaint = $this->complaint($drop, $months->all(), $now);
        if ($complaint !== null) {
            $this->output->getErrorStyle()->writeln($complaint);

            return 2;
        }
        $began = microtime(true);
        $months->drop($drop);
        $this->line(sprintf('The events of %s are gone, in %.1f s. Figures that were made from them stay.', $drop, microtime(true) - $began));

        return 0;
    }

    /** @param list<string> $known */
    private function complaint(string $drop, array $known, CarbonImmutable $now): ?string
    {
        if (! in_array($drop, $known, true)) {
            return "No events of \"{$drop}\" are kept. There are: ".implode(', ', $known);
        }
        if ($drop >= $now->subSeconds(self::LEDGER_SECONDS)->format('Y-m')) {
            return "Events of {$drop} may still arrive; drop it when it is over.";
        }
        $end = CarbonImmutable::parse("{$drop}-01", 'UTC')->addMonth();
        foreach (Experiment::query()->whereIn('state', ['running', 'paused'])->with('revisions')->get() as $experiment) {
            $begin = Definitions::periods($experiment)->begin();
            if ($begin !== null && $begin < $end) {
                return "The experiment \"{$experiment->key}\" still needs {$drop}: it began on {$begin->format('j F Y')}. End it first.";
            }
        }

        return null;
    }

    /** Walks the ledger in the order of its key: an index by time would cost every beacon something. */
    private function forgetIds(CarbonImmutable $now): void
    {
        $limit = $now->subSeconds(self::LEDGER_SECONDS)->format('Y-m-d H:i:s.v');
        foreach (DB::table('sites')->pluck('id') as $site) {
            $after = '';
            do {
                $part = DB::table('event_ids')->where('site_id', $site)->where('event_id', '>', $after)->orderBy('event_id')->limit(self::AT_ONCE)->get(['event_id', 'received', 'lasting']);
                $after = (string) $part->last()?->event_id;
                $old = $part->where('lasting', 0)->where('received', '<', $limit)->pluck('event_id')->all();
                foreach (array_chunk($old, 1000) as $ids) {
                    DB::table('event_ids')->where('site_id', $site)->whereIn('event_id', $ids)->delete();
                }
            } while ($part->count() === self::AT_ONCE);
        }
    }
}
