<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

/** Adds up the hits of one goal by its count mode: once a visitor, once a session, or every time; an order once in any case. */
final class Totals
{
    private int $hits = 0;

    /** @var array<string, true> */
    private array $visitors = [];

    /** @var array<string, true> */
    private array $sessions = [];

    /** @var array<string, Sum> currency => sum; '' where no currency is known */
    private array $values = [];

    private int $unreadable = 0;

    private int $reached = 0;

    private int $inSessions = 0;

    public function __construct(private readonly Goal $goal)
    {
    }

    /**
     * Adds one visitor after another, without remembering who they were.
     *
     * @param list<Hit> $hits all of one visitor, in the order of time; of an order the first alone
     */
    public function addVisitor(array $hits): void
    {
        if ($hits === []) {
            return;
        }
        $this->reached++;
        foreach ($hits as $hit) {
            $this->add($hit);
        }
        $this->inSessions += count($this->sessions);
        $this->visitors = $this->sessions = [];
    }

    /** Adds what was counted of other visitors. */
    public function plus(self $other): void
    {
        $this->hits += $other->hits;
        $this->reached += $other->reached;
        $this->inSessions += $other->inSessions;
        $this->unreadable += $other->unreadable;
        foreach ($other->values as $currency => $sum) {
            ($this->values[$currency] ??= new Sum())->plus($sum);
        }
    }

    /**
     * @param iterable<Hit> $hits of any number of visitors
     *
     * @return array{hits: int, visitors: int, sessions: int, value: float|null, currency: string|null, values: array<string, float>, unreadable: int}
     *         `unreadable`: how many of the hits should have a value, and have none that can be read; `value` is in the goal's currency; where the goal has none, in the only one that was seen, and null where there are several
     */
    public static function of(Goal $goal, iterable $hits): array
    {
        $totals = new self($goal);
        foreach (self::onceAnOrder($hits) as $hit) {
            $totals->add($hit);
        }

        return $totals->toArray();
    }

    /**
     * @param iterable<Hit> $hits
     *
     * @return list<Hit> in the order of time, and of their events' ids where that is the same; of an order that was sent again, the first
     */
    public static function onceAnOrder(iterable $hits): array
    {
        $hits = is_array($hits) ? $hits : iterator_to_array($hits, false);
        usort($hits, static fn (Hit $a, Hit $b): int => $a->time <=> $b->time ?: strcmp($a->event(), $b->event()));
        $seen = [];

        return array_values(array_filter($hits, static function (Hit $hit) use (&$seen): bool {
            // With a mark before it, since PHP would take an order number of digits for a number, and 007 for another than 7.
            $isNew = $hit->order === null || ! isset($seen["#{$hit->order}"]);
            if ($hit->order !== null) {
                $seen["#{$hit->order}"] = true;
            }

            return $isNew;
        }));
    }

    private function add(Hit $hit): void
    {
        $session = "{$hit->visitor} {$hit->session->format('U.v')}";
        $counts = match ($this->goal->count) {
            'visitor' => ! isset($this->visitors[$hit->visitor]),
            'session' => ! isset($this->sessions[$session]),
            default => true,
        };
        $this->visitors[$hit->visitor] = true;
        $this->sessions[$session] = true;
        if (! $counts) {
            return;
        }
        $this->hits++;
        if ($hit->value !== null) {
            $currency = $hit->currency ?? '';
            ($this->values[$currency] ??= new Sum())->add($hit->value);
        } elseif ($this->goal->valueProp !== null) {
            $this->unreadable++;
        }
    }

    /** @return array{hits: int, visitors: int, sessions: int, value: float|null, currency: string|null, values: array<string, float>, unreadable: int} */
    public function toArray(): array
    {
        ksort($this->values);
        $values = array_map(static fn (Sum $sum): float => $sum->toFloat(), $this->values);
        $currency = $this->goal->currency ?? (count($values) === 1 ? (array_key_first($values) ?: null) : null);
        $hasNone = $this->goal->fixed === null && $this->goal->valueProp === null;
        $value = match (true) {
            $hasNone => null,
            $currency !== null => $values[$currency] ?? 0.0,
            count($values) > 1 => null,
            default => $values[''] ?? 0.0,
        };

        return ['hits' => $this->hits, 'visitors' => $this->reached + count($this->visitors), 'sessions' => $this->inSessions + count($this->sessions), 'value' => $value, 'currency' => $currency, 'values' => $values, 'unreadable' => $this->unreadable];
    }
}
