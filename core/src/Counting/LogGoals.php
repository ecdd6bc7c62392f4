<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Formats\Bits;
use Pellix\Core\Formats\Spool;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\Sessions;

/**
 * Counts goals in an event log of any length, in bounded memory and in time that grows with the length alone: what belongs
 * together (the copies of an id, the events of a visitor, the copies of an order) is put aside on disk, and looked at
 * part by part, by two processes. Of an id that comes again the first in the file counts; of an order, the earliest.
 */
final class LogGoals
{
    /** A part with more bytes is divided once more. */
    private const LARGEST_PART = 6_000_000;
    private const SMALLER_PARTS = 16;
    private const WORTH_TWO_EVENTS = 50_000;

    private int $visitors = 0;

    /** @var array<string, int> visitor => events beyond those that are counted of one */
    private array $cut = [];

    /** @var list<GoalTally> */
    private array $tallies;

    /** @var list<string> what was done with the events of the visitor that is explained */
    private array $explained = [];

    /**
     * @param list<Goal>  $goals
     * @param string|null $explain a visitor whose events are to be explained
     * @param Bits        $copies  which events, by their number, are copies of earlier ones
     * @param list<int>   $before  of each piece of the log, the number of events in earlier ones
     */
    private function __construct(
        private readonly array $goals,
        private readonly int $sessionMinutes,
        private readonly ?string $explain,
        private readonly Bits $copies,
        private readonly array $before,
        private readonly OrderSpool $orders,
    ) {
        $this->tallies = array_map(static fn (Goal $goal): GoalTally => new GoalTally($goal), $goals);
    }

    /**
     * @param non-empty-list<iterable<int, mixed>> $pieces   one or two, in order: line number => what the line holds, as `LogReader` gives it
     * @param list<Goal>                           $goals
     * @param callable(int): void                  $progress is told now and then how many events were read, about
     *
     * @throws InvalidLog whose field begins with the number of the line
     */
    public static function count(array $pieces, array $goals, int $minutes, callable $progress, ?string $explain = null): LogTotals
    {
        $asides = array_map(static fn (): PutAside => new PutAside($goals, $explain), $pieces);
        $read = count($pieces) === 1
            ? [$asides[0]->read($pieces[0], $progress)]
            : TwoAtOnce::run(static fn (int $half): array => $asides[$half]->read($pieces[$half], $half === 0 ? static fn (int $events) => $progress(2 * $events) : static fn () => null));
        $before = [0, $read[0][0]];
        $events = array_sum(array_column($read, 0));
        $isMuch = count($pieces) > 1 || $events > self::WORTH_TWO_EVENTS;

        [[$copies, $repeated], [$more, $moreRepeated]] = TwoAtOnce::run(static fn (int $half): array => self::copies($asides, $before, $events, $half), $isMuch);
        $copies = $copies->or($more);

        $orders = [new OrderSpool(), new OrderSpool()];
        $halves = TwoAtOnce::run(static fn (int $half): array => (new self($goals, $minutes, $explain, $copies, $before, $orders[$half]))->half($asides, $half), $isMuch);
        $tallies = $halves[0][2];
        foreach ($halves as $half => [, , , , $hits]) {
            $orders[$half]->has($hits);
        }
        foreach ([$halves[1][2], ...self::ordered($goals, $orders, $isMuch)] as $others) {
            foreach ($tallies as $i => $tally) {
                $tally->plus($others[$i]);
            }
        }

        return new LogTotals(
            $events,
            $repeated + $moreRepeated,
            $halves[0][0] + $halves[1][0],
            array_merge(...array_column($read, 1)),
            $halves[0][1] + $halves[1][1],
            $tallies,
            $halves[0][3] ?: $halves[1][3],
        );
    }

    /**
     * What goals that orders reached come to.
     *
     * @param list<Goal>                     $goals
     * @param array{OrderSpool, OrderSpool} $orders
     *
     * @return array{list<GoalTally>, list<GoalTally>}
     */
    private static function ordered(array $goals, array $orders, bool $isMuch): array
    {
        [$later, $more] = TwoAtOnce::run(static fn (int $half): array => OrderSpool::later($orders, $half), $isMuch);

        return TwoAtOnce::run(static function (int $half) use ($goals, $orders, $later, $more): array {
            $tallies = array_map(static fn (Goal $goal): GoalTally => new GoalTally($goal), $goals);
            foreach ($orders[$half]->once($later[$half]->or($more[$half])) as [$hits, $about]) {
                /** @var array<string, array{string, \DateTimeImmutable}> $exposures as `exposures()` has them */
                $exposures = $about;
                foreach ($hits as $i => $found) {
                    $tallies[$i]->add($found, $exposures);
                }
            }

            return $tallies;
        }, $isMuch);
    }

    /**
     * Which events are copies, by every second part of the ids.
     *
     * @param list<PutAside> $asides
     * @param list<int>      $before
     *
     * @return array{Bits, int} the second: how many
     */
    private static function copies(array $asides, array $before, int $events, int $half): array
    {
        $copies = new Bits($events);
        $repeated = 0;
        for ($part = $half; $part < PutAside::PARTS; $part += 2) {
            $first = [];
            foreach ($asides as $piece => $aside) {
                $records = (string) stream_get_contents($aside->ids->part($part));
                foreach ($records === '' ? [] : str_split($records, 16) as $record) {
                    $id = substr($record, 0, 12);
                    if (isset($first[$id])) {
                        // Records are in the order of the log, so this is a later copy.
                        $copies->set($before[$piece] + (ord($record[12]) | ord($record[13]) << 8 | ord($record[14]) << 16 | ord($record[15]) << 24));
                        $repeated++;
                    }
                    $first[$id] = true;
                }
                $aside->ids->drop($part);
            }
        }

        return [$copies, $repeated];
    }

    /**
     * Counts every second part of the visitors.
     *
     * @param list<PutAside> $asides
     *
     * @return array{int, array<string, int>, list<GoalTally>, list<string>, int} visitors, cut, tallies, explained, hits that wait for others' orders
     */
    private function half(array $asides, int $half): array
    {
        for ($part = $half; $part < PutAside::PARTS; $part += 2) {
            $this->part(array_map(static fn (PutAside $aside) => $aside->log->part($part), $asides), 1);
            foreach ($asides as $aside) {
                $aside->log->drop($part);
            }
        }

        return [$this->visitors, $this->cut, $this->tallies, $this->explained, $this->orders->flush()];
    }

    /** @param list<resource> $files with all events of some visitors, of each piece of the log */
    private function part(array $files, int $depth): void
    {
        if ($depth <= 3 && array_sum(array_map(static fn ($file): int => fstat($file)['size'] ?? 0, $files)) > self::LARGEST_PART) {
            Spool::inParts($files, self::SMALLER_PARTS, static fn (string $line): int => crc32("{$depth} ".self::record($line)[2]), fn (array $parts) => $this->part($parts, $depth + 1));

            return;
        }
        /** @var array<string, array<int, int>> $times visitor, with a mark before it => microseconds, in the order of the log */
        $times = [];
        /** @var array<string, array<int, list<mixed>>> $rows the same => events that are looked at, by their place there */
        $rows = [];
        foreach ($files as $piece => $file) {
            while (($line = fgets($file)) !== false) {
                [$number, $micros, $visitor, $row] = self::record($line);
                if ($this->copies->has($number + $this->before[$piece])) {
                    continue;
                }
                // The mark, since PHP would take an id of digits for a number.
                $key = "#{$visitor}";
                $times[$key][] = $micros;
                $place = count($times[$key]) - 1;
                if ($row !== null) {
                    $rows[$key][$place] = $row;
                }
                if ($place + 1 >= 2 * VisitorLog::MOST_EVENTS) {
                    [$times[$key], $rows[$key]] = $this->earliest($visitor, $times[$key], $rows[$key] ?? []);
                }
            }
        }
        foreach ($times as $key => $own) {
            $visitor = substr($key, 1);
            $this->visitor($visitor, ...$this->earliest($visitor, $own, $rows[$key] ?? []));
            unset($rows[$key]);
        }
    }

    /** @return array{int, int, string, list<mixed>|null} number, microseconds since 1970, visitor, and the event where somebody looks at it */
    private static function record(string $line): array
    {
        if ($line[0] === '[') {
            /** @var array{int, int, string, list<mixed>|null} $record */
            $record = json_decode($line, true, 64);

            return $record;
        }
        [$number, $micros, $visitor] = explode("\t", $line, 3);

        return [(int) $number, (int) $micros, substr($visitor, 0, -1), null];
    }

    /**
     * Those events that count, in the order of time, and of the log where that is the same.
     *
     * @param array<int, int>          $times
     * @param array<int, list<mixed>> $rows
     *
     * @return array{list<int>, array<int, list<mixed>>}
     */
    private function earliest(string $visitor, array $times, array $rows): array
    {
        asort($times);
        $more = count($times) - VisitorLog::MOST_EVENTS;
        if ($more > 0) {
            if (isset($this->cut[$visitor]) || count($this->cut) < 100) {
                $this->cut[$visitor] = ($this->cut[$visitor] ?? 0) + $more;
            }
            $times = array_slice($times, 0, VisitorLog::MOST_EVENTS, true);
        }
        $sorted = [];
        if ($rows !== []) {
            foreach (array_keys($times) as $to => $from) {
                if (isset($rows[$from])) {
                    $sorted[$to] = $rows[$from];
                }
            }
        }

        return [array_values($times), $sorted];
    }

    /**
     * @param list<int>                $times in order
     * @param array<int, list<mixed>> $rows  events that are looked at, by their place among the times
     */
    private function visitor(string $visitor, array $times, array $rows): void
    {
        $this->visitors++;
        if ($rows === []) {
            return;
        }
        $events = $begins = $places = [];
        $last = $session = null;
        $begin = 0;
        foreach ($times as $place => $micros) {
            // Of numbers: most events are looked at for nothing else.
            if ($last === null || Sessions::isOver(($micros - $last) / 1e6, $this->sessionMinutes)) {
                $begin = $micros;
                $session = null;
            }
            $last = $micros;
            if (isset($rows[$place])) {
                $event = PutAside::event($rows[$place], $visitor, self::moment($micros));
                $places[$event->name][] = count($events);
                $events[] = $event;
                $begins[] = $session ??= self::moment($begin);
            }
        }
        $hits = [];
        foreach ($this->goals as $i => $goal) {
            $names = $goal->events();
            $positions = $places[$names[0]] ?? [];
            if (count($names) > 1) {
                $positions = array_merge(...array_map(static fn (string $name): array => $places[$name] ?? [], $names));
                sort($positions);
            }
            $found = $positions === [] ? [] : HitFinder::among($goal, $events, $begins, $positions);
            if ($found !== []) {
                $hits[$i] = $found;
            }
        }
        if ($visitor === $this->explain) {
            $this->explained = LogExplanation::of($this->goals, $events, $hits);
        }
        $exposures = self::exposures(array_map(static fn (int $at): LogEvent => $events[$at], $places['exposure'] ?? []));
        // An order may have been told of by somebody else, and earlier; the other goals need not wait for that.
        $waiting = [];
        foreach ($hits as $i => $found) {
            foreach ($found as $hit) {
                if ($hit->order !== null) {
                    $waiting[$i] = $found;
                    break;
                }
            }
        }
        if ($waiting !== []) {
            $this->orders->put($waiting, $exposures);
        }
        foreach ($this->tallies as $i => $tally) {
            if (! isset($waiting[$i])) {
                $tally->add($hits[$i] ?? [], $exposures);
            }
        }
    }

    /**
     * @param list<LogEvent> $exposures in the order of time
     *
     * @return array<string, array{string, \DateTimeImmutable}> experiment => variant and first exposure; whoever was exposed to
     *                                                          several counts for none
     */
    private static function exposures(array $exposures): array
    {
        $met = [];
        foreach ($exposures as $event) {
            $experiment = $event->text('experiment') ?? '';
            $variant = $event->text('variant') ?? '';
            if ($experiment !== '' && $variant !== '') {
                $met[$experiment][0] ??= $event->time;
                $met[$experiment][1][$variant] = true;
            }
        }
        $counts = [];
        foreach ($met as $experiment => [$first, $variants]) {
            if (count($variants) === 1) {
                $counts[(string) $experiment] = [(string) array_key_first($variants), $first];
            }
        }

        return $counts;
    }

    private static function moment(int $micros): \DateTimeImmutable
    {
        $seconds = intdiv($micros, 1_000_000) - ($micros % 1_000_000 < 0 ? 1 : 0);

        return new \DateTimeImmutable(sprintf('@%d.%06d', $seconds, $micros - 1_000_000 * $seconds));
    }
}
