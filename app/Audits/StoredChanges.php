<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\Site;
use App\Storage\EventMonths;
use App\Storage\Streamed;
use Carbon\CarbonImmutable;
use PDO;
use Pellix\Core\Events\ClockShift;

/**
 * Visitors of a site of whom events have arrived since a moment: what they had done by then, and what they have by now. The newest
 * arrivals are found by an index; of nobody else anything is read.
 */
final readonly class StoredChanges
{
    private const AT_ONCE = 500;

    /**
     * @param CarbonImmutable $from   events before it are not looked at
     * @param CarbonImmutable $before what happened and arrived before it was looked at then
     * @param CarbonImmutable $now    what happens or arrives later is not looked at yet
     */
    public function __construct(private Site $site, private CarbonImmutable $from, private CarbonImmutable $before, private CarbonImmutable $now, private EventMonths $months = new EventMonths())
    {
    }

    /** @return \Generator<int, array{list<array<string, mixed>>, list<array<string, mixed>>}> */
    public function visitors(): \Generator
    {
        $partitions = implode(', ', $this->months->partitions($this->from, $this->now));
        $changed = (new Streamed())->rows(
            "select distinct visitor from events partition ({$partitions}) force index (events_received) where site_id = ? and received >= ? and received < ? and time >= ? and time <= ?",
            // What lay a little ahead of its receipt then is new now.
            [$this->site->id, self::text($this->before->subSeconds(ClockShift::TOLERATED_SECONDS)), self::text($this->now), self::text($this->from), self::text($this->now)],
        );
        $own = new Streamed();
        while (($some = self::some($changed)) !== []) {
            $rows = $own->rows(
                'select '.StoredRow::COLUMNS." from events partition ({$partitions}) force index (primary) where site_id = ? and visitor in (".rtrim(str_repeat('?,', count($some)), ',').') and time >= ? and time <= ? and received < ? order by visitor, time, event_id',
                [$this->site->id, ...$some, self::text($this->from), self::text($this->now), self::text($this->now)],
            );
            yield from $this->pairs($rows);
        }
    }

    /** @return list<string> */
    private static function some(\PDOStatement $visitors): array
    {
        $some = [];
        while (count($some) < self::AT_ONCE && ($visitor = $visitors->fetchColumn()) !== false) {
            $some[] = (string) $visitor;
        }

        return $some;
    }

    /** @return \Generator<int, array{list<array<string, mixed>>, list<array<string, mixed>>}> */
    private function pairs(\PDOStatement $rows): \Generator
    {
        $until = self::text($this->before);
        $visitor = null;
        $was = $is = [];
        $isNew = false;
        do {
            $row = $rows->fetch(PDO::FETCH_NUM);
            if ($row === false || $row[StoredRow::VISITOR] !== $visitor) {
                if ($isNew) {
                    yield [$was, $is];
                }
                $was = $is = [];
                $isNew = false;
                $visitor = $row === false ? null : $row[StoredRow::VISITOR];
            }
            if ($row !== false) {
                $wasThere = $row[StoredRow::TIME] <= $until && $row[StoredRow::RECEIVED] < $until;
                $isNew = $isNew || ! $wasThere;
                $event = StoredRow::event($row);
                count($is) < StoredRow::MOST_EVENTS && $is[] = $event;
                $wasThere && count($was) < StoredRow::MOST_EVENTS && $was[] = $event;
            }
        } while ($row !== false);
    }

    private static function text(CarbonImmutable $at): string
    {
        return $at->format('Y-m-d H:i:s.v');
    }
}
