<?php

declare(strict_types=1);

namespace Demo\Logs;

use Demo\Traffic\Dice;

/** Who comes to the invented site, when, and with what: all of it made up. */
final class World
{
    public const HOST = 'larkhollow.localhost';
    public const DESK = 'desk.larkhollow.localhost';
    public const PAY = 'pay.larkhollow.localhost';

    /** device, browser, agent, weight, rate of conversion against the others' */
    private const MACHINES = [
        ['desktop', 'chrome', 'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36', 27, 1.15],
        ['desktop', 'firefox', 'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0', 9, 1.2],
        ['desktop', 'safari', 'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.0 Safari/605.1.15', 8, 1.2],
        ['desktop', 'edge', 'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36 Edg/141.0.0.0', 7, 1.05],
        ['mobile', 'safari', 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.0 Mobile/15E148 Safari/604.1', 21, 0.8],
        ['mobile', 'chrome', 'Mozilla/5.0 (Linux; Android 14; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Mobile Safari/537.36', 19, 0.75],
        ['mobile', 'firefox', 'Mozilla/5.0 (Android 14; Mobile; rv:143.0) Gecko/143.0 Firefox/143.0', 3, 0.8],
        ['tablet', 'safari', 'Mozilla/5.0 (iPad; CPU OS 16_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/16.0 Safari/604.1', 6, 1.0],
    ];

    private const CRAWLER = 'Mozilla/5.0 (compatible; leafbot/2.1; +http://leaf.localhost/bot)';

    private const SOURCES = [['search', 38, 1.0], ['direct', 26, 1.1], ['newsletter', 12, 1.5], ['social', 14, 0.6], ['partner', 10, 0.9]];

    private const COUNTRIES = [['de', 55, 1.0], ['at', 15, 1.0], ['ch', 12, 1.1], ['nl', 10, 0.9], ['dk', 8, 0.9]];

    /** Visits by hour of the day. */
    private const HOURS = [4, 3, 2, 2, 2, 4, 9, 18, 30, 38, 42, 44, 43, 40, 40, 41, 43, 45, 48, 52, 50, 40, 24, 11];

    /** Visits by day of the week, Monday first. */
    private const WEEK = [1.1, 1.05, 1.05, 1.0, 0.9, 0.8, 1.0];

    public const BOTS = 0.008;

    private int $count = 0;

    /** @param int $seed of ids */
    public function __construct(private readonly Dice $dice, private readonly int $seed)
    {
    }

    /**
     * How many first visits begin in each hour: a rhythm of days and weeks, days that differ, and hours that vary more than
     * Poisson's would.
     *
     * @return list<int>
     */
    public function arrivals(int $visitors, int $days, int $weekday): array
    {
        $weights = [];
        for ($day = 0; $day < $days; $day++) {
            $mood = $this->around(0.12);
            foreach (self::HOURS as $hour) {
                $weights[] = $hour * self::WEEK[($weekday + $day) % 7] * $mood * $this->around(0.15);
            }
        }
        $ends = [];
        $sum = 0.0;
        foreach ($weights as $weight) {
            $ends[] = $sum += $weight;
        }
        $arrivals = array_fill(0, count($weights), 0);
        for ($i = 0; $i < $visitors; $i++) {
            $at = $this->dice->fraction() * $sum;
            for ($low = 0, $high = count($ends) - 1; $low < $high;) {
                $middle = intdiv($low + $high, 2);
                [$low, $high] = $ends[$middle] > $at ? [$low, $middle] : [$middle + 1, $high];
            }
            $arrivals[$low]++;
        }

        return $arrivals;
    }

    public function person(): Person
    {
        $n = ++$this->count;
        $machine = $this->pick(self::MACHINES, 3);
        $source = $this->pick(self::SOURCES, 1);
        $country = $this->pick(self::COUNTRIES, 1);
        $isBot = $this->dice->chance(self::BOTS);
        $isCrawler = $isBot && $this->dice->chance(0.5);

        return new Person(
            'v'.substr(hash('xxh64', "{$this->seed} {$n}"), 0, 12).base_convert((string) $n, 10, 36),
            $this->dice->chance(0.12) ? 'member-'.hash('crc32b', "{$this->seed} user {$n}") : null,
            (string) $machine[0],
            (string) $machine[1],
            $isCrawler ? self::CRAWLER : (string) $machine[2],
            (string) $source[0],
            (string) $country[0],
            (float) $machine[4] * (float) $source[2] * (float) $country[2],
            $isBot,
        );
    }

    /** A factor about 1: lognormal, with this coefficient of variation, about. */
    public function around(float $cv): float
    {
        return exp($cv * $this->normal() - $cv * $cv / 2);
    }

    public function normal(): float
    {
        return sqrt(-2 * log(1 - $this->dice->fraction())) * cos(2 * M_PI * $this->dice->fraction());
    }

    /**
     * @param list<list<string|int|float>> $of
     *
     * @return list<string|int|float>
     */
    private function pick(array $of, int $weight): array
    {
        $at = $this->dice->fraction() * array_sum(array_column($of, $weight));
        foreach ($of as $one) {
            $at -= $one[$weight];
            if ($at < 0) {
                return $one;
            }
        }

        return $of[0];
    }
}
