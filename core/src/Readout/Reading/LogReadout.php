<?php

declare(strict_types=1);

namespace Pellix\Core\Readout\Reading;

use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Reading\Companion;
use Pellix\Core\Audit\Reading\LogAudit;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Counting\OrderSpool;
use Pellix\Core\Counting\TwoAtOnce;
use Pellix\Core\Formats\Bits;
use Pellix\Core\Readout\Subject;
use Pellix\Core\Readout\Table;
use Pellix\Core\Readout\UnitTotals;

/** Reads a log of any length once, for its audit and its readout together. An order counts for whoever told of it first. */
final class LogReadout implements Companion
{
    private readonly Table $table;

    private function __construct(private readonly UnitReader $reader, private readonly OrderSpool $orders)
    {
        $this->table = new Table($reader->items);
    }

    /**
     * @param non-empty-list<iterable<int, mixed>> $pieces   one or two, in order: line number => what the line holds, or an `InvalidLog`
     * @param callable(int): mixed                 $progress is told now and then how many lines were read, about
     *
     * @return array{Evidence, Table}
     */
    public static function of(array $pieces, Setup $setup, Subject $subject, callable $progress): array
    {
        $reader = UnitReader::of($setup, $subject);
        $orders = [new OrderSpool(), new OrderSpool()];
        $companions = array_map(static fn (OrderSpool $own): self => new self($reader, $own), $orders);
        [$evidence, $results] = LogAudit::beside($pieces, $setup, $progress, $companions);
        $table = new Table($subject->items);
        /** @var array{array{Table, int}, array{Table, int}} $results of `result()` */
        foreach ($results as $half => [$own, $hits]) {
            $table->plus($own);
            $orders[$half]->has($hits);
        }
        $isMuch = array_sum(array_column($results, 1)) > 10_000;
        [$later, $more] = TwoAtOnce::run(static fn (int $half): array => OrderSpool::later($orders, $half), $isMuch);
        foreach (TwoAtOnce::run(static fn (int $half): Table => (new self($reader, $orders[$half]))->settled($later[$half]->or($more[$half])), $isMuch) as $own) {
            $table->plus($own);
        }
        $table->prune();

        return [$evidence, $table];
    }

    public function unit(Unit $unit): void
    {
        $read = $this->reader->read($unit);
        if ($read === null) {
            // Whoever counts for no variant may have told of an order first: then it is nobody's.
            $orders = $this->reader->orders($unit);
            $orders === [] || $this->orders->put($orders, []);

            return;
        }
        // Somebody else may have told of an order, and earlier.
        $read->waiting === [] ? $this->table->add($read->totals) : $this->orders->put($read->waiting, [$read->first, $read->totals->toArray()]);
    }

    public function prune(): void
    {
        $this->table->prune();
    }

    /** @return array{Table, int} the second: hits that wait for others' orders */
    public function result(): array
    {
        return [$this->table, $this->orders->flush()];
    }

    /**
     * Of the units that have waited.
     *
     * @param Bits $later hits that do not count
     */
    private function settled(Bits $later): Table
    {
        foreach ($this->orders->once($later) as [$hits, $about]) {
            if ($about === []) {
                continue;
            }
            /** @var array{int, array<mixed>} $about */
            $this->table->add($this->reader->with(UnitTotals::from($about[1]), $about[0], $hits));
        }

        return $this->table;
    }
}
