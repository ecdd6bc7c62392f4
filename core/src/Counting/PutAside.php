<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Events\PlainRow;
use Pellix\Core\Formats\Instants;
use Pellix\Core\Formats\PlainJson;
use Pellix\Core\Formats\Spool;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Step;

/**
 * One piece of a log, put aside on disk: each event by its visitor, and its id by the id, to tell copies. Of an event that no
 * goal looks at only the moment is kept.
 */
final class PutAside
{
    /** Parts of the visitors, and of the ids. */
    public const PARTS = 64;

    private const MOST_PAGES = 50_000;

    /** So many names of events are remembered, to tell which were never met. */
    private const MOST_NAMES = 10_000;

    private const TOLD_EVERY = 65_536;

    public readonly Spool $log;

    public readonly Spool $ids;

    private int $events = 0;

    /** @var array<string, true> names of events that were met */
    private array $names = [];

    /** @var array<string, list<Step>> name of events => steps of goals that look at them */
    private readonly array $steps;

    /** Whether any goal asks where somebody came from, and with what. */
    private readonly bool $asksAll;

    /** @var array<string, bool> address => whether a step of a page reached is met: most addresses come again and again */
    private array $pages = [];

    private readonly Instants $instants;

    private readonly \DateTimeImmutable $noTime;

    /**
     * @param list<Goal>  $goals
     * @param string|null $explain a visitor of whom every event is kept
     */
    public function __construct(array $goals, private readonly ?string $explain)
    {
        $steps = [];
        $asksAll = false;
        foreach ($goals as $goal) {
            foreach ($goal->steps as $step) {
                $steps[$step->recordedAs][] = $step;
                $asksAll = $asksAll || $step->when !== null;
            }
        }
        $this->instants = new Instants();
        $this->steps = $steps;
        $this->asksAll = $asksAll;
        $this->noTime = new \DateTimeImmutable('@0');
        $this->log = new Spool(self::PARTS);
        $this->ids = new Spool(self::PARTS);
    }

    /**
     * @param iterable<int, mixed> $rows     line number => what the line holds, as `LogReader::rows()` gives it
     * @param callable(int): void  $progress is told now and then how many events were read
     *
     * @return array{int, array<string, true>} number of events, and their names
     *
     * @throws InvalidLog whose field begins with the number of the line
     */
    public function read(iterable $rows, callable $progress): array
    {
        foreach ($rows as $line => $row) {
            if (! PlainRow::is($row)) {
                $event = LogReader::event($line, $row);
                [$id, $visitor, $name, $url, $time] = [$event->id, $event->visitor, $event->name, $event->url, is_array($row) && is_string($row['time'] ?? null) ? $row['time'] : ''];
            } else {
                ['id' => $id, 'visitor' => $visitor, 'name' => $name, 'url' => $url, 'time' => $time] = $row;
            }
            $micros = $this->instants->of($time) ?? throw new InvalidLog('A time in RFC 3339 is needed, such as "2026-03-02T14:05:00Z".', "{$line}.time");
            $number = $this->events++;
            $hash = hash('xxh128', $id, true);
            $this->ids->add(ord($hash[15]), substr($hash, 0, 12).pack('V', $number));
            if (! isset($this->names[$name]) && count($this->names) < self::MOST_NAMES) {
                $this->names[$name] = true;
            }
            $isWanted = $name === 'exposure' || (isset($this->steps[$name]) && is_array($row) && $this->isMet($name, $url, $row)) || $visitor === $this->explain;
            $this->log->add(crc32($visitor), ($isWanted || strpbrk($visitor, "\n\t") !== false
                ? PlainJson::of([$number, $micros, $visitor, $isWanted ? $this->kept((array) $row) : null])
                : "{$number}\t{$micros}\t{$visitor}")."\n");
            if ($this->events % self::TOLD_EVERY === 0) {
                $progress($this->events);
            }
        }
        $this->log->flush();
        $this->ids->flush();

        return [$this->events, $this->names];
    }

    /**
     * @param array<mixed> $row that was looked at before
     *
     * @return list<mixed> what `event()` makes an event of again
     */
    private function kept(array $row): array
    {
        $kept = [$row['id'], $row['name'], $row['url'], $row['props'] ?? [], $row['user'] ?? null];

        return $this->asksAll ? [...$kept, $row['referrer'] ?? null, $row['agent'] ?? null] : $kept;
    }

    /** @param list<mixed> $kept */
    public static function event(array $kept, string $visitor, \DateTimeImmutable $time): LogEvent
    {
        /** @var array{string, string, string, array<string, mixed>, string|null, string|null, string|null} $kept */
        return new LogEvent($kept[0], $visitor, $time, $kept[1], $kept[2], $kept[3], ($kept[5] ?? '') ?: null, ($kept[6] ?? '') ?: null, ($kept[4] ?? '') ?: null);
    }

    /**
     * Whether any step of any goal is met. Of all other events only the moment matters: it keeps a session going.
     *
     * @param array<mixed> $row
     */
    private function isMet(string $name, string $url, array $row): bool
    {
        if ($name !== 'page_view') {
            return self::meets($this->steps[$name], self::event($this->kept($row), '', $this->noTime));
        }
        if (! isset($this->pages[$url])) {
            if (count($this->pages) >= self::MOST_PAGES) {
                $this->pages = [];
            }
            $this->pages[$url] = self::meets($this->steps[$name], self::event($this->kept($row), '', $this->noTime));
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
}
