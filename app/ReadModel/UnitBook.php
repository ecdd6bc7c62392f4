<?php

namespace App\ReadModel;

use App\Models\Exclusion;
use App\Models\Experiment;
use Pellix\Core\Audit\Reading\Cells;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Settings;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\ExclusionSum;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\Periods;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Readout\Reading\UnitReader;
use Pellix\Core\Readout\Subject;

/** What each unit of an experiment comes to in its readout, worked out as of an event log: with what audits leave out left out. */
final class UnitBook
{
    private readonly Cells $cells;

    /** @param list<GoalCount> $goals in the order of the set-up's */
    private function __construct(private readonly Setup $setup, public readonly UnitReader $reader, private readonly array $goals)
    {
        $this->cells = new Cells($setup);
    }

    /** @param list<GoalCount> $goals */
    public static function of(Experiment $experiment, Declared $declared, Periods $ran, array $goals): self
    {
        $site = $experiment->site;
        $goals = array_slice($goals, 0, Setup::MOST_GOALS);
        $setup = new Setup(
            $declared,
            array_map(static fn (GoalCount $one) => $one->goal, $goals),
            settings: Settings::read(['time_zone' => $site->time_zone, 'hosts' => $site->hosts, 'session_minutes' => $site->session_minutes, 'exclusions' => Exclusion::active($experiment)]),
            ran: $ran,
            readsVisits: true,
        );

        return new self($setup, UnitReader::of($setup, new Subject($declared), array_map(static fn (GoalCount $one): string => self::item($one->id), $goals)), $goals);
    }

    /** What the item of a goal is called in the sums, by the count of the goal. */
    public static function item(int $count): string
    {
        return "g{$count}";
    }

    /**
     * @param string                $key  `v` and a visitor, or `u` and a user
     * @param list<object>          $rows of `events`, all of the unit
     * @param array<int, list<Hit>> $hits count of the goal => those that count
     *
     * @return string|null JSON of `UnitTotals`; null of a unit that counts for no variant, or is left out
     */
    public function totals(string $key, array $rows, array $hits): ?string
    {
        $lines = [];
        foreach ($rows as $i => $row) {
            try {
                $made = $this->cells->of($i + 1, self::event($row));
                if ($made !== null && $made[0] === $key) {
                    $lines[] = $made[1];
                }
            } catch (InvalidLog) {
                // It was accepted once, by other rules; nothing is known of it.
            }
        }
        $unit = $lines === [] ? null : $this->setup->settings->exclusions->left(new Unit($key, $lines, $this->setup), $this->setup, new ExclusionSum());
        $read = $unit === null ? null : $this->reader->read($unit);
        if ($read === null) {
            return null;
        }
        $waiting = [];
        foreach ($read->waiting as $place => $own) {
            $counting = [];
            foreach ($hits[$this->goals[$place]->id] ?? [] as $hit) {
                $counting[hash('xxh64', $hit->event())] = true;
            }
            $waiting[$place] = array_values(array_filter($own, static fn (Hit $hit): bool => isset($counting[$hit->event()])));
        }

        return json_encode($this->reader->with($read->totals, $read->first, $waiting)->toArray(), JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION);
    }

    /** @return array<string, mixed> in the form of an event log */
    private static function event(object $row): array
    {
        [$time, $received] = [$row->time, $row->received];
        $time[10] = $received[10] = 'T';
        $props = $row->props === '{}' ? [] : (array) json_decode($row->props, true, 64);
        foreach (['device', 'browser', 'source', 'country'] as $segment) {
            if (($row->{$segment} ?? null) !== null) {
                $props[$segment] = $row->{$segment};
            }
        }

        return ['id' => $row->event_id, 'visitor' => $row->visitor, 'user' => $row->user, 'time' => "{$time}Z", 'received' => "{$received}Z", 'name' => $row->name, 'url' => $row->url, 'referrer' => $row->referrer, 'agent' => $row->agent, 'props' => $props];
    }
}
