<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Incremental\Checkpoint;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\Tally;
use Pellix\Core\Counting\TwoAtOnce;
use Pellix\Core\Formats\Spool;

/**
 * Reads a log of any length once, in bounded memory: what belongs together (the events of a unit, the copies of an id, the
 * visitors of a user, the tellings of an order) is put aside on disk, and looked at part by part, by two processes.
 */
final class LogAudit
{
    private const WORTH_TWO_EVENTS = 50_000;

    private const IDS_AT_ONCE = 12_000_000;

    private int $units = 0;

    private int $copies = 0;

    private readonly Tally $tally;

    private function __construct(private readonly Setup $setup, private readonly Spool $users, private readonly Spool $orders, private readonly ?Companion $companion)
    {
        $this->tally = new Tally($setup);
    }

    /**
     * @param non-empty-list<iterable<int, mixed>> $pieces   one or two, in order: line number => what the line holds, or an `InvalidLog`
     * @param callable(int): mixed                 $progress is told now and then how many lines were read, about
     */
    public static function of(array $pieces, Setup $setup, callable $progress): Evidence
    {
        return self::beside($pieces, $setup, $progress, null)[0];
    }

    /**
     * The same, while something else looks at the same units.
     *
     * @param non-empty-list<iterable<int, mixed>>    $pieces
     * @param callable(int): mixed                    $progress
     * @param array{Companion, Companion}|null $companions one for each half of the log
     *
     * @return array{Evidence, list<mixed>} the second: what each companion gave
     */
    public static function beside(array $pieces, Setup $setup, callable $progress, ?array $companions): array
    {
        $log = LogUnits::read($pieces, $setup, $progress);
        $isMuch = $log->events > self::WORTH_TWO_EVENTS;

        $spools = [[new Spool(1), new Spool(1)], [new Spool(1), new Spool(1)]];
        $halves = TwoAtOnce::run(static fn (int $half): array => (new self($setup, $spools[$half][0], $spools[$half][1], $companions[$half] ?? null))->half($log, $half), $isMuch);
        $tally = $halves[0]['tally'];
        $tally->plus($halves[1]['tally']);

        $evidence = new Evidence(
            $setup,
            $tally,
            $log->lines,
            $log->events,
            $log->later,
            $log->skipped,
            $halves[0]['copies'] + $halves[1]['copies'],
            $halves[0]['shared'] + $halves[1]['shared'],
            $setup->experiment->unit === 'user' ? $halves[0]['visitors'] + $halves[1]['visitors'] : $halves[0]['units'] + $halves[1]['units'],
            Users::of([$spools[0][0], $spools[1][0]], $setup),
            Orders::of([$spools[0][1], $spools[1][1]]),
            fingerprint: bin2hex($log->fingerprint),
        );

        return [$evidence, array_column($halves, 'companion')];
    }

    /**
     * Looks at every second part of the units, and of the ids.
     *
     * @return array{tally: Tally, units: int, copies: int, shared: int, visitors: int, companion: mixed}
     */
    private function half(LogUnits $log, int $half): array
    {
        $log->half($half, $this->unit(...), $this->prune(...));
        $this->users->flush();
        $this->orders->flush();

        return ['tally' => $this->tally, 'units' => $this->units, 'copies' => $this->copies, 'shared' => self::shared($log->intakes, $half), 'visitors' => self::visitors($log->intakes, $half), 'companion' => $this->companion?->result()];
    }

    /**
     * How many ids belong to events of several visitors.
     *
     * @param list<Intake> $intakes
     */
    private static function shared(array $intakes, int $half): int
    {
        $number = 0;
        for ($part = $half; $part < Intake::ID_PARTS; $part += 2) {
            $files = array_map(static fn (Intake $intake) => $intake->ids->part($part), $intakes);
            // Of a long log not all ids of a part are held at once.
            $rounds = 1 + intdiv((int) array_sum(array_map(static fn ($file): int => fstat($file)['size'] ?? 0, $files)), self::IDS_AT_ONCE);
            for ($round = 0; $round < $rounds; $round++) {
                $owner = $shared = [];
                foreach ($files as $file) {
                    rewind($file);
                    while (($records = (string) fread($file, 16 * 4096)) !== '') {
                        /** @var array<int, int> $numbers the hash of an id, that of its visitor, and so on */
                        $numbers = unpack('P*', $records);
                        for ($at = 1, $end = count($numbers); $at < $end; $at += 2) {
                            $id = $numbers[$at];
                            if ($rounds > 1 && ($id & 0xFFFF) % $rounds !== $round) {
                                continue;
                            }
                            if (($owner[$id] ??= $numbers[$at + 1]) !== $numbers[$at + 1]) {
                                $shared[$id] = true;
                            }
                        }
                    }
                }
                $number += count($shared);
            }
            foreach ($intakes as $intake) {
                $intake->ids->drop($part);
            }
        }

        return $number;
    }

    /**
     * Visitors, where the units are users.
     *
     * @param list<Intake> $intakes
     */
    private static function visitors(array $intakes, int $half): int
    {
        $number = 0;
        for ($part = $half; $part < Intake::ID_PARTS; $part += 2) {
            $seen = [];
            foreach ($intakes as $intake) {
                $file = $intake->visitors?->part($part);
                while ($file !== null && ($hash = (string) fread($file, 8)) !== '') {
                    $seen[$hash] = true;
                }
            }
            $number += count($seen);
        }

        return $number;
    }

    private function unit(Unit $seen): void
    {
        $seen = $this->setup->settings->exclusions->left($seen, $this->setup, $this->tally->exclusions);
        if ($seen === null) {
            return;
        }
        $this->units++;
        $this->copies += count($seen->copies);
        $this->tally->add($seen, $this->setup, $this->users, $this->orders);
        $this->companion?->unit($seen);
    }

    private function prune(): void
    {
        $this->tally->prune();
        $this->companion?->prune();
    }

    /**
     * The same of events that come visitor by visitor already, as a database gives them: nothing is put aside. Ids are unique there,
     * and each unit is a visitor.
     *
     * @param callable(int): iterable<list<array<string, mixed>>> $visitors which half => all events of one visitor after the other, in the form of an event log
     * @param callable(int): mixed                                $progress is told now and then how many events were read, about
     */
    public static function ofVisitors(callable $visitors, Setup $setup, callable $progress): Evidence
    {
        return Checkpoint::ofVisitors($visitors, $setup, $progress)->evidence($setup);
    }
}
