<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Goals\Totals;

/** One goal by visitors who would have entered: how many reached it, and what it was worth of each. */
final class GoalBaseline
{
    private int $reached = 0;

    private readonly Moments $value;

    /** @var array<string, true> */
    private array $currencies = [];

    public function __construct(private readonly Goal $goal)
    {
        $this->value = new Moments();
    }

    public function add(VisitorLog $log, \DateTimeImmutable $entered): void
    {
        $hits = array_values(array_filter($log->hits($this->goal), static fn (Hit $hit): bool => $hit->time >= $entered));
        $totals = $hits === [] ? null : Totals::of($this->goal, $hits);
        $values = $totals['values'] ?? [];
        $this->reached += $hits === [] ? 0 : 1;
        $this->value->add($totals['value'] ?? (float) array_sum($values));
        foreach (array_keys($values) as $currency) {
            $this->currencies[$currency] = true;
        }
    }

    /** @return array{key: string, name: string, role: string, reached: int, rate: float|null, value: array{mean: float, sd: float}|null, currencies: list<string>} */
    public function result(int $visitors): array
    {
        $isValued = $this->goal->fixed !== null || $this->goal->valueProp !== null;
        // Sums of several currencies mean nothing.
        $isOne = $this->goal->currency !== null || count($this->currencies) < 2;

        return [
            'key' => $this->goal->key, 'name' => $this->goal->name, 'role' => $this->goal->role,
            'reached' => $this->reached,
            'rate' => $visitors === 0 ? null : $this->reached / $visitors,
            'value' => $isValued && $isOne ? $this->value->toArray() : null,
            'currencies' => array_values(array_filter(array_map(strval(...), array_keys($this->currencies)), static fn (string $one): bool => $one !== '')),
        ];
    }
}
