<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Rules\Fact;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Place;
use Pellix\Core\Rules\Rule;

/** How many visitors an experiment would have met: told of whole visitors, one after the other, what their recorded events say. */
final class Reach
{
    public const WEEKS = 4;

    /** So many addresses are told apart. */
    private const MOST_PAGES = 5_000;

    private int $views = 0;
    private int $visitors = 0;
    private int $eligible = 0;
    private int $unknown = 0;

    /** @var list<array{visitors: int, eligible: int}> the oldest first */
    private array $weeks;

    /** @var array<string, int> address without query and fragment, with a mark before it => page views */
    private array $pages = [];

    private readonly \DateTimeImmutable $since;

    private readonly Eligibility $eligibility;

    /**
     * @param Rule|null $audience null for everybody
     * @param 'visitor'|'user' $unit
     */
    public function __construct(PageRule $pages, private readonly ?Rule $audience, string $unit, \DateTimeImmutable $now)
    {
        $this->eligibility = new Eligibility($pages, $audience, $unit);
        $this->since = $now->modify('-'.(7 * self::WEEKS).' days');
        $this->weeks = array_fill(0, self::WEEKS, ['visitors' => 0, 'eligible' => 0]);
    }

    /** @param iterable<LogEvent> $events of one visitor */
    public function add(iterable $events): void
    {
        $best = null;
        $weeks = [];
        foreach ($events as $event) {
            if ($event->time < $this->since || ! $this->eligibility->isView($event)) {
                continue;
            }
            $this->views++;
            $this->page($event->url);
            $answer = $this->eligibility->answer($event);
            $best = self::better($best, $answer);
            $week = min(self::WEEKS - 1, intdiv($event->time->getTimestamp() - $this->since->getTimestamp(), 7 * 86400));
            $weeks[$week] = self::better($weeks[$week] ?? null, $answer);
        }
        $this->visitors += $best === null ? 0 : 1;
        $this->eligible += $best === 'yes' ? 1 : 0;
        $this->unknown += $best === 'unknown' ? 1 : 0;
        foreach ($weeks as $week => $answer) {
            ['visitors' => $visitors, 'eligible' => $eligible] = $this->weeks[$week];
            $this->weeks[$week] = ['visitors' => $visitors + 1, 'eligible' => $eligible + ($answer === 'yes' ? 1 : 0)];
        }
    }

    /**
     * @return array{views: int, visitors: int, eligible: int, unknown: int, weeks: list<array{from: string, visitors: int, eligible: int}>, weekly: float, pages: array<string, int>, unrecorded: list<string>}
     *         `weekly`: eligible visitors a week, the mean; `unknown` are visitors of whom nobody can say whether they are eligible: that hangs on facts that recorded events do not hold (`unrecorded`), or that theirs do not
     */
    public function result(int $pages): array
    {
        arsort($this->pages);
        $most = array_slice($this->pages, 0, $pages, true);

        return [
            'views' => $this->views, 'visitors' => $this->visitors, 'eligible' => $this->eligible, 'unknown' => $this->unknown,
            'weeks' => array_map(fn (array $week, int $i): array => ['from' => $this->since->modify("+{$i} weeks")->format('Y-m-d\TH:i:s\Z'), ...$week], $this->weeks, array_keys($this->weeks)),
            'weekly' => array_sum(array_column($this->weeks, 'eligible')) / self::WEEKS,
            'pages' => array_combine(array_map(static fn (string $marked): string => substr($marked, 1), array_keys($most)), $most),
            'unrecorded' => self::unrecorded($this->audience),
        ];
    }

    /** @return list<string> facts that a rule asks about and that recorded events do not hold */
    public static function unrecorded(?Rule $rule): array
    {
        $facts = [];
        foreach ($rule?->conditions() ?? [] as $condition) {
            if (Fact::named($condition->fact)?->isKnownAt(Place::RecordedEvent) !== true) {
                $facts[$condition->fact] = $condition->fact;
            }
        }

        return array_values($facts);
    }

    /**
     * @param 'yes'|'no'|'unknown'|null $one
     * @param 'yes'|'no'|'unknown'      $other
     *
     * @return 'yes'|'no'|'unknown'
     */
    private static function better(?string $one, string $other): string
    {
        return match (true) {
            $one === 'yes' || $other === 'yes' => 'yes',
            $one === 'unknown' || $other === 'unknown' => 'unknown',
            default => 'no',
        };
    }

    private function page(string $url): void
    {
        // With a mark before it, since PHP would take an address of digits for a number.
        $page = '#'.substr($url, 0, strcspn($url, '?#'));
        if (isset($this->pages[$page]) || count($this->pages) < self::MOST_PAGES) {
            $this->pages[$page] = ($this->pages[$page] ?? 0) + 1;
        }
    }
}
