<?php

declare(strict_types=1);

namespace Demo\Logs;

use Demo\Traffic\Dice;
use Pellix\Core\Assignment\Assigner;
use Pellix\Core\Experiments\Experiment;

/** Writes event logs of invented visitors, sound or with faults, from a seed: the same one gives the same log. */
final class LogMaker
{
    private const RATE = 0.11;

    /** Lines that are sent again, and events that are sent late. */
    private const AGAIN = 0.004;
    private const LATE = 0.006;

    private const IDLE = 3_600_000;

    private readonly Dice $dice;

    private readonly World $world;

    /** @var list<Assigner> of each epoch */
    private readonly array $assigners;

    private int $ids = 0;

    private int $orders = 0;

    public function __construct(private readonly Settings $settings)
    {
        $this->dice = new Dice($settings->seed);
        $this->world = new World($this->dice, $settings->seed);
        $experiment = Experiment::read($settings->experiment());
        $this->assigners = array_map($experiment->assignerIn(...), array_keys($settings->epochs));
    }

    /** @return \Generator<int, array<string, mixed>> events, visitor by visitor */
    public function events(): \Generator
    {
        $faults = new Faults($this->settings, $this->dice);
        $begin = $this->settings->begin();
        foreach ($this->world->arrivals($this->settings->visitors, $this->settings->days, 0) as $hour => $visitors) {
            for ($i = 0; $i < $visitors; $i++) {
                $at = $begin + 3_600_000 * $hour + $this->dice->between(0, 3_599_999);
                $person = $this->world->person();
                $person->day = ($at - $begin) / 86_400_000;
                $events = $this->visits($person, $at);
                foreach ($this->settings->faults as $fault) {
                    $events = $faults->apply($fault, $person, $events);
                }
                yield from $this->sent($events);
            }
        }
    }

    /** @param array<string, mixed> $event */
    public static function line(array $event): string
    {
        return json_encode([...$event, 'time' => self::time((int) $event['time']), 'received' => self::time((int) $event['received'])], JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION);
    }

    private static function time(int $ms): string
    {
        return gmdate('Y-m-d\TH:i:s', intdiv($ms, 1000)).sprintf('.%03dZ', $ms % 1000);
    }

    /** @return list<array<string, mixed>> everything that one visitor does, in the order of time */
    private function visits(Person $person, int $at): array
    {
        $events = [];
        $kept = null;
        $isDone = false;
        do {
            array_push($events, ...$this->visit($person, $at, $kept, $isDone));
            $at += self::IDLE + (int) (-log(1 - $this->dice->fraction()) * 3 * 86_400_000);
        } while (! $person->isBot && $this->dice->chance(0.28) && $at < $this->settings->end());

        return array_values(array_filter($events, fn (array $event): bool => $event['time'] < $this->settings->end()));
    }

    /** @return list<array<string, mixed>> */
    private function visit(Person $person, int $at, ?string &$kept, bool &$isDone): array
    {
        $events = [];
        $path = ['/', '/catalogue', '/catalogue/fennick-cello', '/workshops', '/loan', '/donate', '/hours'][$this->dice->between(0, 6)];
        $referrer = ['search' => 'https://search.localhost/', 'social' => 'https://social.localhost/', 'partner' => 'https://partner.localhost/'][$person->source] ?? '';
        $pages = $person->isBot ? $this->dice->between(60, 120) : 1;
        while ($path !== null) {
            $host = $path === '/workshops' ? World::DESK : World::HOST;
            $url = "https://{$host}{$path}";
            $events[] = $this->event($person, $at, 'page_view', $url, [], $referrer);
            if ($path === '/loan') {
                $this->expose($person, $at + $this->dice->between(80, 700), $url, $kept, $events);
            }
            $referrer = $url;
            if (! $person->isBot) {
                $this->doings($person, $at, $url, $path, $events);
                $at += 3000 + (int) (-log(1 - $this->dice->fraction()) * 35_000);
                $path = $this->next($person, $at, $path, $isDone);
            } else {
                $at += $this->dice->between(300, 900);
                $path = --$pages > 0 ? ['/', '/catalogue', '/loan', '/hours', '/catalogue/harrow-flute'][$this->dice->between(0, 4)] : null;
            }
        }

        return $events;
    }

    /** @param list<array<string, mixed>> $events */
    private function expose(Person $person, int $at, string $url, ?string &$kept, array &$events): void
    {
        $epoch = min(count($this->assigners) - 1, max(0, intdiv(($at - $this->settings->begin()) * count($this->assigners), $this->settings->end() - $this->settings->begin())));
        $kept ??= $this->assigners[$epoch]->variantOf($person->id);
        $person->variant = $kept;
        // Some leave before anything is sent.
        if ($kept !== null && ! $this->dice->chance(0.004)) {
            $events[] = $this->event($person, $at, 'exposure', $url, ['experiment' => 'loan-steps', 'variant' => $kept]);
            $events[] = $this->event($person, $at, 'exposure', $url, ['experiment' => 'opening-note', 'variant' => crc32("note {$person->id}") % 2 === 0 ? 'control' : 'note']);
        }
    }

    /** @param list<array<string, mixed>> $events */
    private function doings(Person $person, int $at, string $url, string $path, array &$events): void
    {
        if ($this->dice->chance(0.35)) {
            $events[] = $this->event($person, $at + $this->dice->between(900, 2500), 'scroll', $url, ['percent' => $this->dice->between(2, 10) * 10]);
        }
        if ($this->dice->chance(0.25)) {
            $events[] = $this->event($person, $at + $this->dice->between(1200, 2900), 'click', $url, ['path' => 'main a.button']);
        }
        if ($path === '/donate/thanks') {
            $value = round(exp(3.1 + 0.9 * $this->world->normal()), 2);
            $events[] = $this->event($person, $at + $this->dice->between(100, 900), 'order', $url, ['value' => $value, 'currency' => 'EUR', 'order_id' => 'D'.$this->settings->seed.'-'.(++$this->orders)]);
        }
    }

    private function next(Person $person, int $at, string $path, bool &$isDone): ?string
    {
        if ($path === '/loan') {
            $rate = self::RATE * 2.2 * min(1.3, $person->keenness) * ($person->variant === 'short' ? 1 + $this->settings->effect : 1);
            if (! $isDone && $this->dice->chance($rate * $this->season($at))) {
                $isDone = true;

                return '/loan/details';
            }
        }
        if ($path === '/loan/details') {
            return $this->dice->chance(0.75) ? '/loan/done' : null;
        }
        if ($path === '/donate') {
            return $this->dice->chance(0.35) ? '/donate/thanks' : null;
        }
        if ($this->dice->chance(0.38)) {
            return null;
        }

        return ['/', '/catalogue', '/catalogue/harrow-flute', '/catalogue/fennick-cello', '/loan', '/loan', '/workshops', '/donate', '/hours'][$this->dice->between(0, 8)];
    }

    /** How much more often than else the goal is reached at a moment. */
    private function season(int $at): float
    {
        $times = 1.0;
        foreach ($this->settings->faults as $fault) {
            $times *= $fault->name === 'season' && $fault->isAt(($at - $this->settings->begin()) / 86_400_000) ? 1 + $fault->strength(1.0) : 1.0;
        }

        return $times;
    }

    /**
     * @param array<string, mixed> $props
     *
     * @return array<string, mixed>
     */
    private function event(Person $person, int $at, string $name, string $url, array $props, string $referrer = ''): array
    {
        return [
            'id' => sprintf('e%d-%d', $this->settings->seed, ++$this->ids), 'visitor' => $person->id, 'user' => $person->user, 'time' => $at, 'received' => $at + $this->dice->between(40, 1800),
            'name' => $name, 'url' => $url, 'referrer' => $referrer, 'agent' => $person->agent, 'props' => [...$props, 'source' => $person->source, 'country' => $person->country],
        ];
    }

    /**
     * As the collector gets them: some late, some twice.
     *
     * @param list<array<string, mixed>> $events
     *
     * @return \Generator<int, array<string, mixed>>
     */
    private function sent(array $events): \Generator
    {
        foreach ($events as $event) {
            if ($this->dice->chance(self::LATE)) {
                $event['received'] += (int) (-log(1 - $this->dice->fraction()) * 3_600_000);
            }
            yield $event;
            if ($this->dice->chance(self::AGAIN)) {
                yield [...$event, 'received' => $event['received'] + 5000];
            }
        }
    }
}
