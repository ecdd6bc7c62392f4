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
use Pellix\Core\InvalidInput;
use Pellix\Core\Readout\Item;
use Pellix\Core\Readout\Reading\UnitReader;
use Pellix\Core\Readout\Subject;

/** What each unit of an experiment comes to in its readout, worked out as of an event log: with what audits leave out left out. */
final class UnitBook
{
    /** @var array{Setup, UnitReader, Cells}|false|null made when it is asked for first; false where it cannot be */
    private array|false|null $made = null;

    /** @var list<GoalCount> in the order of the set-up's */
    private readonly array $goals;

    /** @param list<GoalCount> $goals */
    public function __construct(private readonly Experiment $experiment, private readonly Declared $declared, private readonly Periods $ran, array $goals)
    {
        $this->goals = array_slice($goals, 0, Setup::MOST_GOALS);
    }

    /** @return array{Setup, UnitReader, Cells}|null */
    private function made(): ?array
    {
        try {
            return ($this->made ??= $this->make()) ?: null;
        } catch (InvalidInput) {
            // The experiment is counted all the same; its readout says why it cannot be made.
            $this->made = false;

            return null;
        }
    }

    /**
     * @return array{Setup, UnitReader, Cells}
     *
     * @throws InvalidInput
     */
    private function make(): array
    {
        $site = $this->experiment->site;
        $setup = new Setup(
            $this->declared,
            array_map(static fn (GoalCount $one) => $one->goal, $this->goals),
            settings: Settings::read(['time_zone' => $site->time_zone, 'hosts' => $site->hosts, 'session_minutes' => $site->session_minutes, 'exclusions' => Exclusion::active($this->experiment)]),
            ran: $this->ran,
            readsVisits: true,
        );

        return [$setup, UnitReader::of($setup, new Subject($this->declared), array_map(static fn (GoalCount $one): string => self::item($one->id), $this->goals)), new Cells($setup)];
    }

    /** @return list<Item> all that the totals may have */
    public function items(): array
    {
        return $this->made()[1]->items ?? [];
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
        if ($this->made() === null) {
            return null;
        }
        [$setup, $reader, $cells] = $this->made();
        $lines = [];
        foreach ($rows as $i => $row) {
            try {
                $made = $cells->of($i + 1, self::event($row));
                if ($made !== null && $made[0] === $key) {
                    $lines[] = $made[1];
                }
            } catch (InvalidLog) {
                // It was accepted once, by other rules; nothing is known of it.
            }
        }
        $unit = $lines === [] ? null : $setup->settings->exclusions->left(new Unit($key, $lines, $setup), $setup, new ExclusionSum());
        $read = $unit === null ? null : $reader->read($unit);
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

        return json_encode($reader->with($read->totals, $read->first, $waiting)->toArray(), JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION);
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
