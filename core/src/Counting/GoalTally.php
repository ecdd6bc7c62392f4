<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Goals\Totals;

/** What one goal comes to, visitor by visitor: for everybody, and for the variants of each experiment. */
final class GoalTally
{
    /** So many variants, of all experiments of a log, are told apart. */
    private const MOST_VARIANTS = 1000;

    private readonly Totals $all;

    /** @var array<string, array<string, Totals>> experiment => variant => since the first exposure */
    private array $variants = [];

    /** @var array<string, array<string, int>> experiment => variant => visitors that were exposed to it alone */
    private array $exposed = [];

    private int $number = 0;

    public function __construct(public readonly Goal $goal)
    {
        $this->all = new Totals($goal);
    }

    /**
     * @param list<Hit>                                         $hits      of one visitor; of an order the first alone
     * @param array<string, array{string, \DateTimeImmutable}> $exposures experiment => variant, first exposure
     */
    public function add(array $hits, array $exposures): void
    {
        $this->all->addVisitor($hits);
        foreach ($exposures as $experiment => [$variant, $first]) {
            if (! $this->isKnown($experiment, $variant)) {
                continue;
            }
            $this->exposed[$experiment][$variant] = ($this->exposed[$experiment][$variant] ?? 0) + 1;
            $hits === [] || $this->variants[$experiment][$variant]->addVisitor(array_values(array_filter($hits, static fn (Hit $hit): bool => $hit->time >= $first)));
        }
    }

    /** Adds what was counted of other visitors. */
    public function plus(self $other): void
    {
        $this->all->plus($other->all);
        foreach ($other->variants as $experiment => $variants) {
            foreach ($variants as $variant => $totals) {
                if ($this->isKnown((string) $experiment, (string) $variant)) {
                    $this->exposed[$experiment][$variant] = ($this->exposed[$experiment][$variant] ?? 0) + $other->exposed[$experiment][$variant];
                    $this->variants[$experiment][$variant]->plus($totals);
                }
            }
        }
    }

    /** Whether there is room for that variant. */
    private function isKnown(string $experiment, string $variant): bool
    {
        if (! isset($this->variants[$experiment][$variant])) {
            if (++$this->number > self::MOST_VARIANTS) {
                return false;
            }
            $this->variants[$experiment][$variant] = new Totals($this->goal);
        }

        return true;
    }

    /** @return array{hits: int, visitors: int, sessions: int, value: float|null, currency: string|null, values: array<string, float>, unreadable: int} */
    public function totals(): array
    {
        return $this->all->toArray();
    }

    /** @return array<string, mixed> `key`, what `Totals::of()` gives, and `variants`: `experiment`, `variant`, `exposed`, and the same totals */
    public function toArray(): array
    {
        $variants = [];
        ksort($this->variants);
        foreach ($this->variants as $experiment => $own) {
            ksort($own);
            foreach ($own as $variant => $totals) {
                $variants[] = ['experiment' => (string) $experiment, 'variant' => (string) $variant, 'exposed' => $this->exposed[$experiment][$variant], ...$totals->toArray()];
            }
        }

        return ['key' => $this->goal->key, ...$this->all->toArray(), 'variants' => $variants];
    }
}
