<?php

namespace App\ReadModel;

use Pellix\Core\Counting\Figures;
use Pellix\Core\Counting\GoalHours;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Readout\Table;
use Pellix\Core\Readout\UnitTotals;

/** By how much the figures become others, gathered over some visitors and written at once. */
final class FigureChanges
{
    /** @var array<int, array<string, int>> count of an experiment => figures to be added */
    private array $figures = [];

    /** @var array<int, array<string, string>> count of an experiment => figure => newest moment */
    private array $lasts = [];

    /** @var array<int, array<string, array{hits: int, sessions: int, visitors: int}>> count of a goal => hour => to be added */
    private array $hours = [];

    /** @var array<int, array<string, true>> count of an experiment => addresses that were viewed */
    private array $examples = [];

    /** @var array<int, Table> count of an experiment => what units add to its readout, and take off */
    private array $tables = [];

    /** A unit comes to something else in a readout: JSON of its totals, before and now; null for nothing. */
    public function unit(ExperimentCount $count, ?string $before, ?string $now): void
    {
        if ($before === $now) {
            return;
        }
        $table = $this->tables[$count->id] ??= new Table($count->book?->items() ?? []);
        foreach ([[$before, -1], [$now, 1]] as [$json, $sign]) {
            if ($json !== null) {
                $table->add(UnitTotals::from((array) json_decode($json, true)), $sign);
            }
        }
    }

    /** @param array<string, int> $figures */
    public function add(int $count, array $figures, int $sign): void
    {
        $this->figures[$count] ??= [];
        Figures::add($this->figures[$count], $figures, $sign);
    }

    /** The newest moment of a figure, which only ever moves on. */
    public function moveOn(int $count, string $figure, \DateTimeImmutable $time): void
    {
        $this->lasts[$count][$figure] = max($this->lasts[$count][$figure] ?? '', $time->format('Y-m-d H:i:s.v'));
    }

    public function viewed(int $count, string $url): void
    {
        $this->examples[$count][substr($url, 0, strcspn($url, '?#'))] = true;
    }

    /** @param list<Hit> $hits of one visitor, those that count */
    public function hits(int $count, array $hits, int $sign): void
    {
        foreach (GoalHours::of($hits) as $hour => $numbers) {
            $known = $this->hours[$count][$hour] ?? ['hits' => 0, 'sessions' => 0, 'visitors' => 0];
            foreach ($known as $name => $n) {
                $known[$name] = $n + $sign * $numbers[$name];
            }
            $this->hours[$count][$hour] = $known;
        }
    }

    /** @return list<int> the counts whose figures have changed */
    public function write(): array
    {
        $changed = [];
        $rows = [];
        foreach ($this->figures as $count => $figures) {
            foreach (array_filter($figures) as $figure => $n) {
                $rows["{$count} {$figure}"] = ['count_id' => $count, 'figure' => $figure, 'n' => $n, 'last' => null];
                $changed[$count] = true;
            }
        }
        foreach ($this->lasts as $count => $figures) {
            foreach ($figures as $figure => $last) {
                $rows["{$count} {$figure}"] = ['count_id' => $count, 'figure' => $figure, 'n' => $rows["{$count} {$figure}"]['n'] ?? 0, 'last' => $last];
                $changed[$count] = true;
            }
        }
        ksort($rows, SORT_STRING);
        Upserts::write('figures', array_values($rows), ['n' => '+', 'last' => 'max']);
        $rows = [];
        foreach ($this->hours as $count => $hours) {
            foreach ($hours as $hour => $numbers) {
                if (array_filter($numbers) !== []) {
                    $rows[] = ['count_id' => $count, 'hour' => $hour, ...$numbers];
                    $changed[$count] = true;
                }
            }
        }
        Upserts::write('goal_hours', $rows, ['hits' => '+', 'sessions' => '+', 'visitors' => '+']);
        ksort($this->tables);
        foreach ($this->tables as $count => $table) {
            ReadoutSums::add($count, $table);
            $changed[$count] = true;
        }
        foreach ($this->examples as $count => $addresses) {
            Examples::note($count, array_keys($addresses));
        }

        return array_keys($changed);
    }
}
