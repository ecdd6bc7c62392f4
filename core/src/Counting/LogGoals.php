<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Formats\Bits;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Formats\Spool;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\Sessions;
use Pellix\Core\Goals\Step;

/**
 * Counts goals in an event log of any length, in bounded memory and in time that grows with the length alone: what belongs
 * together (the copies of an id, the events of a visitor, the copies of an order) is put aside on disk, and looked at
 * part by part. Of an id that comes again the first in the file counts; of an order, the earliest.
 */
final class LogGoals
{
    private const PARTS = 128;

    /** A part with more bytes is divided once more. */
    private const LARGEST_PART = 6_000_000;

    private const MOST_PAGES = 50_000;
    private const MOST_MINUTES = 50_000;

    /** So many names of events are remembered, to tell which were never met. */
    private const MOST_NAMES = 10_000;

    private const JSON = JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION;

    private const TOLD_EVERY = 65_536;

    private int $events = 0;

    private int $repeated = 0;

    private int $visitors = 0;

    /** @var array<string, true> names of events that were met */
    private array $names = [];

    /** @var array<string, int> visitor => events beyond those that are counted of one */
    private array $cut = [];

    /** Which events, by their number, are copies of earlier ones. */
    private Bits $copies;

    /** @var array<string, list<Step>> name of events => steps of goals that look at them */
    private readonly array $steps;

    /** @var array<string, bool> event and address => whether a step of a page reached is met: most addresses come again and again */
    private array $pages = [];

    /** @var array<string, int> minute as it is written => microseconds since 1970 */
    private array $minutes = [];

    private readonly \DateTimeImmutable $noTime;

    /** @var list<GoalTally> */
    private array $tallies;

    /** @var list<string> what was done with the events of the visitor that is explained */
    private array $explained = [];

    /**
     * @param list<Goal>  $goals
     * @param string|null $explain a visitor whose events are to be explained
     */
    private function __construct(private readonly array $goals, private readonly int $sessionMinutes, private readonly ?string $explain)
    {
        $steps = [];
        foreach ($goals as $goal) {
            foreach ($goal->steps as $step) {
                $steps[$step->recordedAs][] = $step;
            }
        }
        $this->steps = $steps;
        $this->copies = new Bits(0);
        $this->noTime = new \DateTimeImmutable('@0');
        $this->tallies = array_map(static fn (Goal $goal): GoalTally => new GoalTally($goal), $goals);
    }

    /**
     * @param iterable<int, mixed> $rows     line number => what the line holds, as `LogReader::rows()` gives it
     * @param list<Goal>           $goals
     * @param callable(int): void  $progress is told now and then how many events were read
     *
     * @throws InvalidLog whose field begins with the number of the line
     */
    public static function count(iterable $rows, array $goals, int $minutes, callable $progress, ?string $explain = null): LogTotals
    {
        $count = new self($goals, $minutes, $explain);
        $log = $count->put($rows, $progress);
        $orders = new OrderSpool();
        foreach ($log->files() as $part) {
            $count->part($part, 1, $orders);
        }
        foreach ($orders->once() as [$visitor, $hits, $exposures]) {
            $count->add($visitor, $hits, $exposures);
        }

        return new LogTotals($count->events, $count->repeated, $count->visitors, $count->names, $count->cut, $count->tallies, $count->explained);
    }

    /**
     * Puts every event aside by its visitor, and tells copies of ids.
     *
     * @param iterable<int, mixed> $rows
     */
    private function put(iterable $rows, callable $progress): Spool
    {
        $log = new Spool(self::PARTS);
        $ids = new Spool(self::PARTS);
        foreach ($rows as $line => $row) {
            // What is surely right is not read in the careful way, which costs more than all the rest.
            if (! is_array($row) || ! is_string($id = $row['id'] ?? null) || ! is_string($visitor = $row['visitor'] ?? null) || ! is_string($name = $row['name'] ?? null)
                || ! is_string($time = $row['time'] ?? null) || ! is_string($url = $row['url'] ?? null) || $id === '' || $visitor === '' || $name === '' || $url === ''
                || strlen($id) > 200 || strlen($visitor) > 200 || strlen($name) > 200 || strlen($url) > 2000
                || (isset($row['props']) && (! is_array($row['props']) || array_is_list($row['props']) && $row['props'] !== []))
                || (isset($row['user']) && ! self::isShort($row['user'])) || (isset($row['referrer']) && ! self::isShort($row['referrer'])) || (isset($row['agent']) && ! self::isShort($row['agent']))) {
                $event = LogReader::event($line, $row);
                [$id, $visitor, $name, $url, $time] = [$event->id, $event->visitor, $event->name, $event->url, is_array($row) && is_string($row['time'] ?? null) ? $row['time'] : ''];
            }
            $micros = $this->micros($time) ?? throw new InvalidLog('A time in RFC 3339 is needed, such as "2026-03-02T14:05:00Z".', "{$line}.time");
            $number = $this->events++;
            $hash = hash('xxh128', $id, true);
            $ids->add(ord($hash[15]), substr($hash, 0, 12).pack('V', $number));
            if (! isset($this->names[$name]) && count($this->names) < self::MOST_NAMES) {
                $this->names[$name] = true;
            }
            $isWanted = $name === 'exposure' || (isset($this->steps[$name]) && is_array($row) && $this->isMet($name, $url, $row)) || $visitor === $this->explain;
            $log->add(crc32($visitor), ($isWanted || strpbrk($visitor, "\n\t") !== false
                ? self::json([$number, $micros, $visitor, $isWanted ? $row : null])
                : "{$number}\t{$micros}\t{$visitor}")."\n");
            if ($this->events % self::TOLD_EVERY === 0) {
                $progress($this->events);
            }
        }
        $this->tellCopies($ids);

        return $log;
    }

    /** Microseconds since 1970; null where the text is no time. Minutes come again and again, so they are worked out once. */
    private function micros(string $time): ?int
    {
        $minute = substr($time, 0, 17);
        if (isset($this->minutes[$minute]) && preg_match('/\A([0-5]\d)(?:\.(\d{1,6}))?Z\z/', substr($time, 17), $m) === 1) {
            return $this->minutes[$minute] + 1_000_000 * (int) $m[1] + (isset($m[2]) ? (int) str_pad($m[2], 6, '0') : 0);
        }
        $moment = Moment::parse($time);
        if ($moment === null) {
            return null;
        }
        $micros = 1_000_000 * $moment->getTimestamp() + (int) $moment->format('u');
        if (preg_match('/:[0-5]\d(\.\d+)?Z\z/', $time) === 1) {
            if (count($this->minutes) >= self::MOST_MINUTES) {
                $this->minutes = [];
            }
            $this->minutes[$minute] = $micros - 1_000_000 * (int) $moment->format('s') - (int) $moment->format('u');
        }

        return $micros;
    }

    /**
     * Whether any step of any goal is met. Of all other events only the moment matters: it keeps a session going.
     *
     * @param array<mixed> $row
     */
    private function isMet(string $name, string $url, array $row): bool
    {
        if ($name !== 'page_view') {
            return self::meets($this->steps[$name], $this->eventOf($row, $this->noTime));
        }
        if (! isset($this->pages[$url])) {
            if (count($this->pages) >= self::MOST_PAGES) {
                $this->pages = [];
            }
            $this->pages[$url] = self::meets($this->steps[$name], $this->eventOf($row, $this->noTime));
        }

        return $this->pages[$url];
    }

    /** @param list<Step> $steps */
    private static function meets(array $steps, LogEvent $event): bool
    {
        foreach ($steps as $step) {
            if ($step->matches($event)) {
                return true;
            }
        }

        return false;
    }

    /** @param array<mixed> $row that was looked at before */
    private function eventOf(array $row, \DateTimeImmutable $time): LogEvent
    {
        /** @var array{id: string, visitor: string, name: string, url: string, props?: array<string, mixed>|null, referrer?: string|null, agent?: string|null, user?: string|null} $row */
        return new LogEvent($row['id'], $row['visitor'], $time, $row['name'], $row['url'], $row['props'] ?? [], ($row['referrer'] ?? '') ?: null, ($row['agent'] ?? '') ?: null, ($row['user'] ?? '') ?: null);
    }

    private static function isShort(mixed $text): bool
    {
        return is_string($text) && strlen($text) <= 10_000;
    }

    /** @param array<mixed> $record */
    private static function json(array $record): string
    {
        $json = json_encode($record, self::JSON);
        if ($json === false) {
            // A number that is too large for one, such as 1e999: none that could be added up.
            array_walk_recursive($record, static function (mixed &$value): void {
                $value = is_float($value) && ! is_finite($value) ? 'no number' : $value;
            });
            $json = json_encode($record, self::JSON | JSON_THROW_ON_ERROR);
        }

        return $json;
    }

    private function tellCopies(Spool $ids): void
    {
        $this->copies = new Bits($this->events);
        foreach ($ids->files() as $file) {
            $first = [];
            foreach (str_split((string) stream_get_contents($file), 16) as $record) {
                $id = substr($record, 0, 12);
                if (! isset($first[$id])) {
                    $first[$id] = true;
                    continue;
                }
                // Records are in the order of the log, so this is a later copy.
                $number = ord($record[12]) | ord($record[13]) << 8 | ord($record[14]) << 16 | ord($record[15]) << 24;
                $this->copies->set($number);
                $this->repeated++;
            }
        }
    }

    /** @param resource $file with all events of some visitors */
    private function part($file, int $depth, OrderSpool $orders): void
    {
        if ($depth <= 3 && (fstat($file)['size'] ?? 0) > self::LARGEST_PART) {
            $parts = new Spool(16);
            while (($line = fgets($file)) !== false) {
                $parts->add(crc32("{$depth} ".self::record($line)[2]), $line);
            }
            foreach ($parts->files() as $part) {
                $this->part($part, $depth + 1, $orders);
            }

            return;
        }
        /** @var array<string, array<int, int>> $times visitor, with a mark before it => microseconds, in the order of the log */
        $times = [];
        /** @var array<string, array<int, array<mixed>>> $rows the same => events that are looked at, by their place there */
        $rows = [];
        while (($line = fgets($file)) !== false) {
            [$number, $micros, $visitor, $row] = self::record($line);
            if ($this->copies->has($number)) {
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
        foreach ($times as $key => $own) {
            $visitor = substr($key, 1);
            $this->visitor($visitor, ...[...$this->earliest($visitor, $own, $rows[$key] ?? []), $orders]);
            unset($rows[$key]);
        }
    }

    /** @return array{int, int, string, array<mixed>|null} number, microseconds since 1970, visitor, and the event where somebody looks at it */
    private static function record(string $line): array
    {
        if ($line[0] === '[') {
            /** @var array{int, int, string, array<mixed>|null} $record */
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
     * @param array<int, array<mixed>> $rows
     *
     * @return array{list<int>, array<int, array<mixed>>}
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
     * @param array<int, array<mixed>> $rows  events that are looked at, by their place among the times
     */
    private function visitor(string $visitor, array $times, array $rows, OrderSpool $orders): void
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
                $event = $this->eventOf($rows[$place], self::moment($micros));
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
        if ($hits === [] && $exposures === []) {
            return;
        }
        foreach ($hits as $found) {
            foreach ($found as $hit) {
                if ($hit->order !== null) {
                    // An order may have been told of by somebody else, and earlier.
                    $orders->put($visitor, $hits, $exposures);

                    return;
                }
            }
        }
        $this->add($visitor, $hits, $exposures);
    }

    /**
     * @param array<int, list<Hit>>                                   $hits      place of the goal => hits, of an order the first alone
     * @param array<string, array{string, \DateTimeImmutable}> $exposures experiment => the variant that the visitor counts for, since when
     */
    private function add(string $visitor, array $hits, array $exposures): void
    {
        foreach ($this->tallies as $i => $tally) {
            $tally->add($visitor, $hits[$i] ?? [], $exposures);
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
