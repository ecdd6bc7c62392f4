<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Goals\Goal;

/**
 * What visitors did whom an experiment would have met in the last four weeks: told of whole visitors, one after the other.
 * Each enters with the first page view that makes it eligible; what it does from then on counts.
 */
final class Baseline
{
    private int $entered = 0;

    private int $unknown = 0;

    /** @var array<int, int> visitors who entered in each week, the oldest first */
    private array $weeks;

    /** @var list<array{views: int, visitors: int}> by weekday, Monday first */
    private array $weekdays;

    /** @var list<GoalBaseline> */
    private array $goals;

    private int $bounced = 0;

    private readonly Moments $engaged;

    private readonly \DateTimeImmutable $since;

    /** @param list<Goal> $goals */
    public function __construct(private readonly Eligibility $eligibility, array $goals, \DateTimeImmutable $now, private readonly \DateTimeZone $zone)
    {
        $this->since = $now->modify('-'.(7 * Reach::WEEKS).' days');
        $this->weeks = array_fill(0, Reach::WEEKS, 0);
        $this->weekdays = array_fill(0, 7, ['views' => 0, 'visitors' => 0]);
        $this->engaged = new Moments();
        $this->goals = array_map(static fn (Goal $goal): GoalBaseline => new GoalBaseline($goal), $goals);
    }

    public function add(VisitorLog $log): void
    {
        $entry = null;
        $days = [];
        $isUnknown = false;
        foreach ($log->events as $i => $event) {
            if ($event->time < $this->since || ! $this->eligibility->isView($event)) {
                continue;
            }
            $answer = $this->eligibility->answer($event);
            $isUnknown = $isUnknown || $answer === 'unknown';
            if ($answer === 'yes') {
                $entry ??= $i;
                $day = $event->time->setTimezone($this->zone);
                $this->weekdays[(int) $day->format('N') - 1]['views']++;
                $days[$day->format('Y-m-d')] = (int) $day->format('N') - 1;
            }
        }
        foreach ($days as $weekday) {
            $this->weekdays[$weekday]['visitors']++;
        }
        if ($entry === null) {
            $this->unknown += $isUnknown ? 1 : 0;

            return;
        }
        $this->enter($log, $entry);
    }

    private function enter(VisitorLog $log, int $entry): void
    {
        $first = $log->events[$entry]->time;
        $this->entered++;
        $this->weeks[min(Reach::WEEKS - 1, intdiv($first->getTimestamp() - $this->since->getTimestamp(), 7 * 86400))]++;
        foreach ($this->goals as $goal) {
            $goal->add($log, $first);
        }
        $this->bounced += self::hasBounced($log, $entry) ? 1 : 0;
        $this->engaged->add(self::engagedSeconds($log, $first));
    }

    /** Whether the session that it entered in has no other page view. */
    private static function hasBounced(VisitorLog $log, int $entry): bool
    {
        $sessions = $log->sessions();
        $views = 0;
        foreach ($log->events as $i => $event) {
            $views += $sessions[$i] === $sessions[$entry] && $event->name === 'page_view' ? 1 : 0;
        }

        return $views === 1;
    }

    /** Seconds of attention from the entry on: each page view tells of its own several times, the last of which counts. */
    private static function engagedSeconds(VisitorLog $log, \DateTimeImmutable $from): float
    {
        $views = [];
        foreach ($log->named['engaged'] ?? [] as $i => $event) {
            $seconds = $event->props['seconds'] ?? null;
            if ($event->time < $from || (! is_int($seconds) && ! is_float($seconds)) || $seconds < 0 || $seconds > 86400) {
                continue;
            }
            $view = is_string($event->props['view'] ?? null) ? "#{$event->props['view']}" : "@{$i}";
            $views[$view] = max($views[$view] ?? 0, $seconds);
        }

        return (float) array_sum($views);
    }

    /**
     * @return array{visitors: int, unknown: int, within: list<int>, weekdays: list<array{views: int, visitors: int}>,
     *               goals: list<array{key: string, name: string, role: string, reached: int, rate: float|null, value: array{mean: float, sd: float}|null, currencies: list<string>}>,
     *               bounce: array{bounced: int, rate: float|null}, engaged: array{mean: float, sd: float}|null}
     *         `within`: visitors who entered within the first one, two, … weeks; `weekdays`: page views, and visitors a day, Monday first;
     *         `unknown`: visitors of whom recorded events do not tell
     */
    public function result(): array
    {
        $within = [];
        foreach ($this->weeks as $i => $entered) {
            $within[] = ($within[$i - 1] ?? 0) + $entered;
        }

        return [
            'visitors' => $this->entered,
            'unknown' => $this->unknown,
            'within' => $within,
            'weekdays' => $this->weekdays,
            'goals' => array_map(fn (GoalBaseline $goal): array => $goal->result($this->entered), $this->goals),
            'bounce' => ['bounced' => $this->bounced, 'rate' => $this->entered === 0 ? null : $this->bounced / $this->entered],
            'engaged' => $this->engaged->toArray(),
        ];
    }
}
