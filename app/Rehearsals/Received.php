<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\ReadModel\StoredEvents;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\LogEvent;

/** What the collector has taken of a rehearsal. */
final readonly class Received
{
    public function __construct(private int $rehearsal)
    {
    }

    /** @return list<LogEvent> of a visitor, in the order of time */
    public function events(string $visitor): array
    {
        return array_map(StoredEvents::event(...), $this->rows($visitor));
    }

    /** @return list<object> */
    public function rows(string $visitor): array
    {
        return DB::table('rehearsal_events')->where('rehearsal_id', $this->rehearsal)->where('visitor', $visitor)->whereNull('rejected')->orderBy('time')->orderBy('received')->orderBy('place')->limit(2000)->get()->all();
    }

    /** @return list<string> whoever has sent something since a moment, in seconds since 1970 */
    public function visitorsSince(float $since): array
    {
        return DB::table('rehearsal_events')->where('rehearsal_id', $this->rehearsal)->whereNull('rejected')->where('received', '>=', gmdate('Y-m-d H:i:s', (int) $since))->distinct()->limit(500)->pluck('visitor')->all();
    }

    /** @return list<object> what was rejected, whoever sent it */
    public function rejected(): array
    {
        return DB::table('rehearsal_events')->where('rehearsal_id', $this->rehearsal)->whereNotNull('rejected')->orderBy('id')->limit(100)->get()->all();
    }
}
