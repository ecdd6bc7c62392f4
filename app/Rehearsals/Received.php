<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\ReadModel\StoredEvents;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Counting\VisitorLog;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;

/** What the collector has taken of a rehearsal. */
final readonly class Received
{
    private const MOST = 2000;

    /** The page's clock and this one are the same machine's; an event may have been made a little before a step was over. */
    private const SLACK_SECONDS = 1;

    public function __construct(private int $rehearsal, private int $sessionMinutes)
    {
    }

    /** @return list<LogEvent> of a visitor, in the order of time */
    public function events(string $visitor): array
    {
        $rows = DB::table('rehearsal_events')->where('rehearsal_id', $this->rehearsal)->where('visitor', $visitor)->whereNull('rejected')->orderBy('time')->orderBy('received')->orderBy('place')->limit(self::MOST)->get()->all();

        return array_map(StoredEvents::event(...), $rows);
    }

    /** @return list<LogEvent> exposures of an experiment */
    public function exposures(string $visitor, string $experiment): array
    {
        return array_values(array_filter($this->events($visitor), static fn (LogEvent $event): bool => $event->name === 'exposure' && $event->text('experiment') === $experiment));
    }

    /** @return list<Hit> of a goal, since a moment in seconds since 1970 */
    public function hits(string $visitor, Goal $goal, float $since): array
    {
        $log = new VisitorLog($this->events($visitor), $this->sessionMinutes);

        return array_values(array_filter($log->hits($goal), static fn (Hit $hit): bool => (float) $hit->time->format('U.u') >= $since - self::SLACK_SECONDS));
    }

    /** @return list<LogEvent> of a visitor, since a moment in seconds since 1970 */
    public function since(string $visitor, float $since): array
    {
        return array_values(array_filter($this->events($visitor), static fn (LogEvent $event): bool => (float) $event->time->format('U.u') >= $since - self::SLACK_SECONDS));
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
