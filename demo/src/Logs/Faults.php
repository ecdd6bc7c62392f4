<?php

declare(strict_types=1);

namespace Demo\Logs;

use Demo\Traffic\Dice;
use Pellix\Core\Assignment\Assigner;
use Pellix\Core\Experiments\Experiment;

/** What each fault does to the events of one visitor. */
final class Faults
{
    /** name => what it does, and its parameters beyond variant, device, browser, source, country, since and until (with what they are else) */
    public const ALL = [
        'lose' => 'visitors are lost whole: strength (0.1)',
        'lose-exposures' => 'exposures are lost, page views are not: strength (0.1)',
        'lose-after' => 'everything after the exposure is lost: strength (0.2)',
        'wrong-variant' => 'another variant is recorded than the assignment gives: strength (0.05)',
        'switch' => 'visitors meet a second variant: strength (0.05)',
        'unknown-variant' => 'exposures name a variant that nobody declared: strength (0.05)',
        'outside-page' => 'exposures on a page that is none of the experiment’s: strength (0.1)',
        'outside-run' => 'exposures go on after the end of the run, which is three days before that of the log: strength (0.5)',
        'outside-share' => 'visitors beyond the share enter: strength (0.5)',
        'user-split' => 'users come back with another visitor id and variant: strength (0.5)',
        'dependent' => 'who is in one variant gets another experiment’s variant more often: strength (0.3)',
        'short-memory' => 'users come back with a new visitor id after a week: strength (0.3)',
        'late-exposure' => 'the exposure is sent after the goal: strength (0.3)',
        'no-page' => 'page views are lost, exposures are not: strength (0.3)',
        'silent-goal' => 'a variant never reaches the goal: page (/loan/done)',
        'drop-goal' => 'the goal is reached less often: page (/loan/done), strength (0.5)',
        'double-goal' => 'the goal page is sent again: page (/loan/done), strength (0.3)',
        'never-goal' => 'nobody reaches the goal: page (/loan/done)',
        'no-value' => 'orders come without their value: strength (0.2)',
        'double-order' => 'an order is told of in several events: strength (0.1)',
        'huge-order' => 'one order after an exposure is far larger than all others: strength (500)',
        'currency' => 'orders come in another currency: strength (0.2)',
        'comma' => 'values are texts with a decimal comma: strength (0.3)',
        'cents' => 'values are in cents: strength (0.3)',
        'silence' => 'no events: event, page, host',
        'drop' => 'fewer events: event, page, host, strength (0.6)',
        'late' => 'events arrive hours late: strength (0.3)',
        'clock' => 'clocks are an hour ahead: strength (0.1)',
        'copies' => 'events come again with the same id: strength (0.2)',
        'double' => 'events fire twice: event (page_view), strength (0.3)',
        'personal' => 'an e-mail address in the page’s address: strength (0.05)',
        'bots' => 'programs that meet one variant alone: strength (0.1)',
        'internal' => 'own people: strength (0.1)',
        'referral' => 'visitors come back from the payment page in a session of its own: strength (0.5)',
        'disorder' => 'exposures lie after their effect: strength (0.3)',
        'off-plan' => 'properties that the plan does not know: event (click), strength (0.3)',
        'season' => 'the goal is reached more often from a day on, in all variants alike, which misleads where the weights were changed then: strength (1)',
        'goal-changed' => 'the goal was given another rule in the middle; the experiment file says so',
    ];

    private int $extra = 0;

    private bool $isDone = false;

    private readonly Assigner $assigner;

    public function __construct(private readonly Settings $settings, private readonly Dice $dice)
    {
        $this->assigner = Experiment::read($settings->experiment())->assigner();
    }

    /**
     * @param list<array<string, mixed>> $events in the order of time
     *
     * @return list<array<string, mixed>>
     */
    public function apply(Fault $fault, Person $person, array $events): array
    {
        if (! $fault->isAbout($person) && $fault->name !== 'dependent') {
            return $events;
        }

        return match ($fault->name) {
            'lose' => $this->lost($fault, $events, 0.1) ? [] : $events,
            'lose-exposures' => $this->lost($fault, $events, 0.1) ? $this->without($events, static fn (array $one): bool => self::isExposure($one)) : $events,
            'lose-after' => $this->lost($fault, $events, 0.2) ? $this->untilExposed($events) : $events,
            'never-goal', 'silent-goal' => $this->without($events, fn (array $one): bool => $this->isGoal($fault, $one) && $fault->isAt($this->day($one))),
            'drop-goal' => $this->without($events, fn (array $one): bool => $this->isGoal($fault, $one) && $fault->isAt($this->day($one)) && $this->dice->chance($fault->strength(0.5))),
            'silence' => $this->without($events, fn (array $one): bool => $fault->touches($one) && $fault->isAt($this->day($one))),
            'drop' => $this->without($events, fn (array $one): bool => $fault->touches($one) && $fault->isAt($this->day($one)) && $this->dice->chance($fault->strength(0.6))),
            'no-page' => $this->lost($fault, $events, 0.3) ? $this->without($events, static fn (array $one): bool => $one['name'] === 'page_view' && str_ends_with((string) $one['url'], '/loan')) : $events,
            'bots' => [...$events, ...$this->program($fault, $person, $events)],
            'user-split', 'short-memory' => $this->comesBack($fault, $person, $events),
            'switch' => $this->switches($fault, $person, $events),
            'outside-share' => $this->outsider($fault, $person, $events),
            'late-exposure', 'disorder' => $this->reordered($fault, $events),
            'dependent' => array_map(fn (array $one): array => $this->dependent($fault, $person, $one), $events),
            'wrong-variant', 'unknown-variant' => $this->renamed($fault, $person, $events),
            'internal' => $this->lost($fault, $events, 0.1) ? array_map(static fn (array $one): array => [...$one, 'props' => [...$one['props'], 'internal' => true]], $events) : $events,
            'clock' => $this->lost($fault, $events, 0.1) ? array_map(static fn (array $one): array => [...$one, 'time' => $one['time'] + 3_600_000], $events) : $events,
            'goal-changed', 'season' => $events,
            default => $this->eventByEvent($fault, $person, $events),
        };
    }

    /** @param list<array<string, mixed>> $events */
    private function lost(Fault $fault, array $events, float $strength): bool
    {
        foreach ($events as $event) {
            if (self::isExposure($event)) {
                return $fault->isAt($this->day($event)) && $this->dice->chance($fault->strength($strength));
            }
        }

        return in_array($fault->name, ['internal', 'clock'], true) && $events !== [] && $fault->isAt($this->day($events[0])) && $this->dice->chance($fault->strength($strength));
    }

    /** @param array<string, mixed> $event */
    private function day(array $event): float
    {
        return ($event['time'] - $this->settings->begin()) / 86_400_000;
    }

    /** @param array<string, mixed> $event */
    private static function isExposure(array $event): bool
    {
        return $event['name'] === 'exposure' && $event['props']['experiment'] === 'loan-steps';
    }

    /** @param array<string, mixed> $event */
    private function isGoal(Fault $fault, array $event): bool
    {
        return $event['name'] === 'page_view' && str_ends_with((string) $event['url'], $fault->get('page', '/loan/done'));
    }

    /**
     * @param list<array<string, mixed>>           $events
     * @param callable(array<string, mixed>): bool $isGone
     *
     * @return list<array<string, mixed>>
     */
    private function without(array $events, callable $isGone): array
    {
        return array_values(array_filter($events, static fn (array $event): bool => ! $isGone($event)));
    }

    /**
     * @param list<array<string, mixed>> $events
     *
     * @return list<array<string, mixed>>
     */
    private function untilExposed(array $events): array
    {
        foreach ($events as $i => $event) {
            if (self::isExposure($event)) {
                return array_slice($events, 0, $i + 1);
            }
        }

        return $events;
    }

    /**
     * @param list<array<string, mixed>> $events
     *
     * @return list<array<string, mixed>>
     */
    private function eventByEvent(Fault $fault, Person $person, array $events): array
    {
        $all = [];
        $isExposed = false;
        foreach ($events as $event) {
            $isExposed = $isExposed || self::isExposure($event);
            array_push($all, ...($fault->isAt($this->day($event)) ? $this->changed($fault, $person, $event, $isExposed) : [$event]));
        }

        return $all;
    }

    /**
     * @param array<string, mixed> $event
     *
     * @return list<array<string, mixed>>
     */
    private function changed(Fault $fault, Person $person, array $event, bool $isExposed): array
    {
        $is = fn (float $strength): bool => $this->dice->chance($fault->strength($strength));
        $with = static fn (array $props): array => [...$event, 'props' => [...$event['props'], ...$props]];
        $isOrder = $event['name'] === 'order';
        $value = (float) ($event['props']['value'] ?? 0);

        return match (true) {
            $fault->name === 'outside-page' && $event['name'] === 'page_view' && str_ends_with((string) $event['url'], '/catalogue') && $person->variant !== null && $is(0.1) => [$event, $this->again($event, 300, ['name' => 'exposure', 'props' => [...$event['props'], 'experiment' => 'loan-steps', 'variant' => $person->variant]])],
            $fault->name === 'outside-run' && self::isExposure($event) && $event['time'] > $this->settings->runEnd() && ! $is(0.5) => [],
            $fault->name === 'double-goal' && $this->isGoal($fault, $event) && $is(0.3) => [$event, $this->again($event, $this->dice->between(900, 6000))],
            $fault->name === 'double-order' && $isOrder && $is(0.1) => [$event, $this->again($event, $this->dice->between(60_000, 900_000))],
            $fault->name === 'no-value' && $isOrder && $is(0.2) => [[...$event, 'props' => array_diff_key($event['props'], ['value' => 0])]],
            $fault->name === 'huge-order' && $isOrder && ! $this->isDone && $isExposed => $this->once([$with(['value' => round($value * $fault->strength(500), 2)])]),
            $fault->name === 'currency' && $isOrder && $is(0.2) => [$with(['currency' => 'CHF'])],
            $fault->name === 'comma' && $isOrder && $is(0.3) => [$with(['value' => number_format($value, 2, ',', '')])],
            $fault->name === 'cents' && $isOrder && $is(0.3) => [$with(['value' => (int) round($value * 100)])],
            $fault->name === 'late' && $is(0.3) => [[...$event, 'received' => $event['time'] + $this->dice->between(2 * 3_600_000, 12 * 3_600_000)]],
            $fault->name === 'copies' && $is(0.2) => [$event, [...$event, 'received' => $event['received'] + 4000]],
            $fault->name === 'double' && $event['name'] === $fault->get('event', 'page_view') && $fault->touches($event) && $is(0.3) => [$event, $this->again($event, $this->dice->between(5, 200))],
            $fault->name === 'personal' && $event['name'] === 'page_view' && $fault->touches($event) && $is(0.05) => [[...$event, 'url' => $event['url'].'?mail=ana.berg%40post.localhost.example']],
            $fault->name === 'off-plan' && $event['name'] === $fault->get('event', 'click') && $is(0.3) => [$with(['unplanned_thing' => 7])],
            $fault->name === 'referral' && str_ends_with((string) $event['url'], '/donate/thanks') && $event['name'] === 'page_view' && $is(0.5) => [[...$event, 'referrer' => 'https://'.World::PAY.'/paid', 'props' => [...$event['props'], 'source' => World::PAY]]],
            default => [$event],
        };
    }

    /**
     * @param list<array<string, mixed>> $events
     *
     * @return list<array<string, mixed>>
     */
    private function once(array $events): array
    {
        $this->isDone = true;

        return $events;
    }

    /**
     * @param array<string, mixed> $event
     * @param array<string, mixed> $other
     *
     * @return array<string, mixed>
     */
    private function again(array $event, int $later, array $other = []): array
    {
        return [...$event, 'id' => $event['id'].'-x'.(++$this->extra), 'time' => $event['time'] + $later, 'received' => $event['received'] + $later, ...$other];
    }

    /**
     * @param list<array<string, mixed>> $events
     *
     * @return list<array<string, mixed>>
     */
    private function renamed(Fault $fault, Person $person, array $events): array
    {
        if ($person->variant === null || ! $this->lost($fault, $events, 0.05)) {
            return $events;
        }
        $others = array_values(array_diff($this->settings->variants(), [$person->variant]));
        $name = $fault->name === 'unknown-variant' ? 'shorter' : $others[$this->dice->between(0, count($others) - 1)];

        return array_map(static fn (array $one): array => self::isExposure($one) ? [...$one, 'props' => [...$one['props'], 'variant' => $name]] : $one, $events);
    }

    /**
     * @param list<array<string, mixed>> $events
     *
     * @return list<array<string, mixed>>
     */
    private function switches(Fault $fault, Person $person, array $events): array
    {
        if ($person->variant === null || ! $this->lost($fault, $events, 0.05)) {
            return $events;
        }
        $others = array_values(array_diff($this->settings->variants(), [$person->variant]));
        foreach ($events as $event) {
            if (self::isExposure($event)) {
                $events[] = $this->again($event, $this->dice->between(60_000, 600_000), ['props' => [...$event['props'], 'variant' => $others[0]]]);
                break;
            }
        }

        return $events;
    }

    /**
     * @param list<array<string, mixed>> $events
     *
     * @return list<array<string, mixed>>
     */
    private function outsider(Fault $fault, Person $person, array $events): array
    {
        if ($person->variant !== null) {
            return $events;
        }
        foreach ($events as $event) {
            if ($event['name'] === 'page_view' && str_ends_with((string) $event['url'], '/loan') && $fault->isAt($this->day($event)) && $this->dice->chance($fault->strength(0.5))) {
                $variants = $this->settings->variants();
                $events[] = $this->again($event, 300, ['name' => 'exposure', 'props' => [...$event['props'], 'experiment' => 'loan-steps', 'variant' => $variants[$this->dice->between(0, count($variants) - 1)]]]);
                break;
            }
        }

        return $events;
    }

    /**
     * @param list<array<string, mixed>> $events
     *
     * @return list<array<string, mixed>>
     */
    private function comesBack(Fault $fault, Person $person, array $events): array
    {
        if ($person->user === null || $person->variant === null || ! $this->lost($fault, $events, $fault->name === 'user-split' ? 0.5 : 0.3)) {
            return $events;
        }
        $later = $fault->name === 'user-split' ? $this->dice->between(3_600_000, 86_400_000) : 8 * 86_400_000;
        $variants = $this->settings->variants();
        $other = $person->id.'b';
        for ($i = 0; ($variant = $this->assigner->variantOf("{$other}{$i}")) === null || ($fault->name === 'user-split' && $variant === $person->variant); $i++) {
            continue;
        }
        $events = [...$events, ...array_map(fn (array $one): array => $this->again($one, $later, ['visitor' => "{$other}{$i}", 'props' => self::isExposure($one) ? [...$one['props'], 'variant' => $variant] : $one['props']]), $this->without($events, static fn (array $one): bool => $one['name'] === 'order'))];

        return array_values(array_filter($events, fn (array $one): bool => $one['time'] < $this->settings->end()));
    }

    /**
     * @param array<string, mixed> $event
     *
     * @return array<string, mixed>
     */
    private function dependent(Fault $fault, Person $person, array $event): array
    {
        $isOther = $event['name'] === 'exposure' && $event['props']['experiment'] === 'opening-note';

        return $isOther && $person->variant === $fault->get('variant', 'short') && crc32("dependent {$person->id}") % 100 < 100 * $fault->strength(0.3) ? [...$event, 'props' => [...$event['props'], 'variant' => 'note']] : $event;
    }

    /**
     * @param list<array<string, mixed>> $events
     *
     * @return list<array<string, mixed>>
     */
    private function reordered(Fault $fault, array $events): array
    {
        if (! $this->lost($fault, $events, 0.3)) {
            return $events;
        }
        if ($fault->name === 'disorder') {
            return array_map(static fn (array $one): array => self::isExposure($one) ? [...$one, 'time' => $one['time'] + 40_000] : $one, $this->applied($events));
        }
        $goal = null;
        foreach ($events as $event) {
            $goal = str_ends_with((string) $event['url'], '/loan/done') && $event['name'] === 'page_view' ? $event : $goal;
        }

        return $goal === null ? $events : array_map(static fn (array $one): array => self::isExposure($one) && $one['time'] < $goal['time'] ? [...$one, 'time' => $goal['time'] + 4000, 'received' => $goal['received'] + 4000] : $one, $events);
    }

    /**
     * @param list<array<string, mixed>> $events
     *
     * @return list<array<string, mixed>>
     */
    private function applied(array $events): array
    {
        $all = [];
        foreach ($events as $event) {
            $all[] = $event;
            if (self::isExposure($event)) {
                $all[] = $this->again($event, 30, ['name' => 'change_applied']);
            }
        }

        return $all;
    }

    /**
     * @param list<array<string, mixed>> $events
     *
     * @return list<array<string, mixed>>
     */
    private function program(Fault $fault, Person $person, array $events): array
    {
        $variant = $fault->get('variant', 'short');
        $exposure = null;
        foreach ($events as $event) {
            $exposure ??= self::isExposure($event) ? $event : null;
        }
        if ($exposure === null || $person->variant !== $variant || ! $fault->isAt($this->day($exposure)) || ! $this->dice->chance($fault->strength(0.1))) {
            return [];
        }
        $other = ['visitor' => $person->id.'p', 'user' => null, 'agent' => 'Mozilla/5.0 (compatible; leafbot/2.1; +http://leaf.localhost/bot)'];
        for ($i = 0; $this->assigner->variantOf("{$other['visitor']}{$i}") !== $variant; $i++) {
            continue;
        }
        $other['visitor'] .= $i;

        return [$this->again($exposure, -150, ['name' => 'page_view', ...$other]), $this->again($exposure, 0, $other)];
    }
}
