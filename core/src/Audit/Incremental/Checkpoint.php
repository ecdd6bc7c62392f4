<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Incremental;

use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Reading\Orders;
use Pellix\Core\Audit\Reading\Users;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\Counts;
use Pellix\Core\Counting\TwoAtOnce;
use Pellix\Core\Formats\Spool;

/**
 * All that was counted of the visitors of a site up to a moment. A later audit goes on from it: of visitors who have done something
 * since, what was counted is taken away, and what they have done by now is added; of all others nothing is read again.
 */
final class Checkpoint
{
    /** So many visitors are counted before the rarest of what they have in common is let go of. */
    private const ROUND_VISITORS = 5_000;

    /** And so many events, where visitors are counted anew. */
    private const ROUND_EVENTS = 50_000;

    private const MOST_BYTES = 512 << 20;

    /**
     * @param Spool $users  lines of which `Users` is made
     * @param Spool $orders lines of which `Orders` is made
     */
    private function __construct(private readonly Totals $totals, private Spool $users, private Spool $orders)
    {
    }

    /**
     * @param callable(int): iterable<list<array<string, mixed>>> $visitors which half => all events of one visitor after the other, in the form of an event log
     * @param callable(int): mixed                                $progress is told now and then how many events were read, about
     */
    public static function ofVisitors(callable $visitors, Setup $setup, callable $progress): self
    {
        $spools = [[new Spool(1), new Spool(1)], [new Spool(1), new Spool(1)]];
        [$totals, $others] = TwoAtOnce::run(static fn (int $half): Totals => self::half($visitors($half), $setup, $spools[$half], $half === 0 ? static fn (int $lines) => $progress(2 * $lines) : static fn (int $lines) => null));
        $totals->plus($others);
        self::append($spools[0][0], $spools[1][0]);
        self::append($spools[0][1], $spools[1][1]);

        return new self($totals, ...$spools[0]);
    }

    /**
     * @param iterable<list<array<string, mixed>>> $visitors
     * @param array{Spool, Spool}                  $spools
     * @param callable(int): mixed                 $progress
     */
    private static function half(iterable $visitors, Setup $setup, array $spools, callable $progress): Totals
    {
        $counter = new Counter($setup, ...$spools);
        foreach ($visitors as $events) {
            $before = $counter->units;
            $counter->visitor($events);
            if ($counter->units !== $before && $counter->units % self::ROUND_VISITORS === 0) {
                $counter->tally->prune();
                $progress($counter->lines);
            }
        }
        array_map(static fn (Spool $spool) => $spool->flush(), $spools);

        return $counter->totals();
    }

    /**
     * Goes on with it.
     *
     * @param iterable<array{list<array<string, mixed>>, list<array<string, mixed>>}> $changed of each visitor who has done something since: all events that were counted here, and all that there are by now
     * @param callable(int): mixed                                                    $progress is told now and then how many events were read
     *
     * @return int events that were read
     *
     * @throws StaleCheckpoint where it was not made of these events: it is of no use any more
     */
    public function goOn(iterable $changed, Setup $setup, callable $progress): int
    {
        $gone = [new Spool(1), new Spool(1)];
        $new = [new Spool(1), new Spool(1)];
        [$was, $is] = [new Counter($setup, ...$gone), new Counter($setup, ...$new)];
        $read = $visitors = 0;
        foreach ($changed as [$before, $now]) {
            $was->visitor($before);
            $is->visitor($now);
            $visitors++;
            $read += count($now);
            if ($visitors % self::ROUND_VISITORS === 0 || $was->lines + $is->lines > self::ROUND_EVENTS) {
                $this->replace($was->totals(), $is->totals());
                [$was, $is] = [new Counter($setup, ...$gone), new Counter($setup, ...$new)];
                $progress($read);
            }
        }
        $this->replace($was->totals(), $is->totals());
        $this->users = self::without($this->users, $gone[0]);
        $this->orders = self::without($this->orders, $gone[1]);
        self::append($this->users, $new[0]);
        self::append($this->orders, $new[1]);

        return $read;
    }

    private function replace(Totals $was, Totals $is): void
    {
        if ($was->skipped->lines + $is->skipped->lines > 0 || $was->units > $this->totals->units || $was->events > $this->totals->events) {
            throw new StaleCheckpoint('It was made of other events.');
        }
        $this->totals->plus($was, Counts::MINUS);
        $this->totals->plus($is);
        $this->totals->tally->prune();
    }

    private static function append(Spool $to, Spool $lines): void
    {
        $file = $lines->part(0);
        while (($line = fgets($file)) !== false) {
            $to->add(0, $line);
        }
    }

    /** @throws StaleCheckpoint where some of them are not there */
    private static function without(Spool $lines, Spool $gone): Spool
    {
        $left = [];
        $file = $gone->part(0);
        while (($line = fgets($file)) !== false) {
            $left["#{$line}"] = ($left["#{$line}"] ?? 0) + 1;
        }
        if ($left === []) {
            return $lines;
        }
        $kept = new Spool(1);
        $file = $lines->part(0);
        while (($line = fgets($file)) !== false) {
            if (($left["#{$line}"] ?? 0) > 0) {
                $left["#{$line}"]--;
            } else {
                $kept->add(0, $line);
            }
        }
        array_sum($left) === 0 || throw new StaleCheckpoint('It was made of other events.');

        return $kept;
    }

    /** What it says, to be looked at; it is not to be gone on with after that. */
    public function evidence(Setup $setup): Evidence
    {
        $totals = $this->totals;

        return new Evidence($setup, $totals->tally, $totals->lines, $totals->events, $totals->later, $totals->skipped, $totals->copies, 0, $totals->units, Users::of([$this->users], $setup), Orders::of([$this->orders]), fingerprint: bin2hex($totals->fingerprint));
    }

    /**
     * Writes it down as `read()` reads it.
     *
     * @param resource $stream
     */
    public function write($stream): void
    {
        $numbers = serialize($this->totals);
        fwrite($stream, strlen($numbers)."\n{$numbers}");
        foreach ([$this->users, $this->orders] as $lines) {
            stream_copy_to_stream($lines->part(0), $stream);
            // No line is empty, so this is the end of them.
            fwrite($stream, "\n");
        }
    }

    /**
     * @param resource $stream
     *
     * @throws StaleCheckpoint where it cannot be read, or was written by another engine
     */
    public static function read($stream): self
    {
        $length = (int) fgets($stream);
        $numbers = $length < 1 || $length > self::MOST_BYTES ? '' : (string) stream_get_contents($stream, $length);
        try {
            $totals = strlen($numbers) !== $length ? null : @unserialize($numbers, ['allowed_classes' => Totals::CLASSES]);
        } catch (\Throwable) {
            $totals = null;
        }

        return $totals instanceof Totals ? new self($totals, self::lines($stream), self::lines($stream)) : throw new StaleCheckpoint('It cannot be read.');
    }

    /** @param resource $stream */
    private static function lines($stream): Spool
    {
        $lines = new Spool(1);
        while (($line = fgets($stream)) !== "\n") {
            $lines->add(0, $line === false ? throw new StaleCheckpoint('Its end is missing.') : $line);
        }

        return $lines;
    }
}
