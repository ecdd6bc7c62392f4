<?php

declare(strict_types=1);

namespace App\AuditReport;

/** The views of an audit as pictures, for a page that needs no scripts. */
final class Pictures
{
    private const WIDTH = 720;
    private const LEFT = 56;
    private const RIGHT = 12;
    private const MOST_SEGMENTS = 16;

    /**
     * @param array<string, mixed>   $split
     * @param \DateTimeZone          $zone
     *
     * @return list<string> one for each variant that tells something of its own
     */
    public static function split(array $split, \DateTimeZone $zone): array
    {
        $looks = $split['looks'];
        if (count($looks) < 2) {
            return [];
        }
        $shown = count($split['variants']) === 2 ? [1] : array_keys($split['variants']);

        return array_map(static fn (int $variant): string => self::course($split, $looks, $variant, $zone), $shown);
    }

    /**
     * @param array<string, mixed>       $split
     * @param list<array<string, mixed>> $looks
     */
    private static function course(array $split, array $looks, int $variant, \DateTimeZone $zone): string
    {
        $height = 190;
        $times = array_map(static fn (array $look): int => self::time($look['until']), $looks);
        $weights = array_map(static fn (array $epoch): float => $epoch['weights'][$variant], $split['epochs']);
        $far = 0.02;
        foreach ($looks as $i => $look) {
            $far = max($far, $i >= intdiv(count($looks), 6) ? 1.25 * abs($look['share'][$variant] - $weights[$look['epoch']]) : 0.0, $i >= intdiv(count($looks), 3) ? min(0.25, $look['high'][$variant] - $weights[$look['epoch']]) : 0.0);
        }
        [$low, $high] = [max(0.0, min($weights) - $far), min(1.0, max($weights) + $far)];
        $x = self::scale($times[0], max($times[count($times) - 1], $times[0] + 1));
        $y = static fn (float $share): float => 12 + ($height - 40) * (1 - (max($low, min($high, $share)) - $low) / ($high - $low));
        $last = $looks[count($looks) - 1];
        $svg = new Svg(self::WIDTH, $height, "Share of {$split['variants'][$variant]}: at the end ".Html::percent($last['share'][$variant], 2).' where '.Html::percent($weights[$last['epoch']], 2).' was promised, bounds '.Html::percent($last['low'][$variant], 2).' to '.Html::percent($last['high'][$variant], 2));
        foreach (array_unique(array_column($looks, 'epoch')) as $epoch) {
            $own = array_keys(array_filter($looks, static fn (array $look): bool => $look['epoch'] === $epoch));
            $svg->area([...array_map(static fn (int $i): array => [$x($times[$i]), $y($looks[$i]['high'][$variant])], $own), ...array_map(static fn (int $i): array => [$x($times[$i]), $y($looks[$i]['low'][$variant])], array_reverse($own))]);
            $svg->line($x($times[$own[0]]), $y($weights[$epoch]), $x($times[$own[count($own) - 1]]), $y($weights[$epoch]), true);
            $epoch === 0 || $svg->line($x($times[$own[0]]), 12, $x($times[$own[0]]), $height - 28);
            $svg->path(array_map(static fn (int $i): array => [$x($times[$i]), $y($looks[$i]['share'][$variant])], $own));
            foreach ($own as $i) {
                if ($looks[$i]['share'][$variant] < $looks[$i]['low'][$variant] || $looks[$i]['share'][$variant] > $looks[$i]['high'][$variant]) {
                    $svg->bar($x($times[$i]) - 3, $y($looks[$i]['share'][$variant]) - 3, 6, 6, 'dark');
                }
            }
        }
        foreach ([$low, ($low + $high) / 2, $high] as $share) {
            $svg->text(self::LEFT - 6, $y($share) + 4, Html::percent($share), 'end');
        }
        self::times($svg, $x, $times[0], $times[count($times) - 1], $height - 10, $zone);

        return "<figure>{$svg}<figcaption>Share of <code>".Html::escaped($split['variants'][$variant]).'</code> of the visitors of its epoch so far. Dashed: promised. Striped: what the anytime-valid test leaves it. Squares lie outside.</figcaption></figure>';
    }

    /** @param array<string, mixed> $segments */
    public static function segments(array $segments): string
    {
        $rows = array_slice($segments['rows'], 0, self::MOST_SEGMENTS);
        if ($rows === []) {
            return '';
        }
        $most = max(1.0, ...array_map(static fn (array $row): float => max($row['missing']), $rows));
        $svg = new Svg(self::WIDTH, 20 * count($rows) + 6, 'Visitors that are missing, by segment; the table has the same');
        foreach ($rows as $i => $row) {
            $missing = max(0.0, max($row['missing']));
            $svg->text(252, 20 * $i + 15, mb_strimwidth("{$row['dimension']} {$row['value']}", 0, 40, '…'), 'end', $row['off']);
            $svg->bar(260, 20 * $i + 4, 330 * $missing / $most, 13, $row['off'] ? 'dark' : 'stripes');
            $svg->text(266 + 330 * $missing / $most, 20 * $i + 15, Html::count((int) round($missing)).' of '.$row['variant'].', '.Html::percent($row['part']));
        }

        return "<figure>{$svg}<figcaption>Visitors that are missing by the other variants’ counts. Filled: off beyond chance, with so many tests reckoned in. Striped: what chance makes.</figcaption></figure>";
    }

    /** @param array<string, mixed> $stages */
    public static function stages(array $stages): string
    {
        if ($stages['rows'] === []) {
            return '';
        }
        $variants = count($stages['variants']);
        $each = 15 * $variants + 16;
        $most = max(1, ...array_merge(...array_map(static fn (array $row): array => $row['observed'], $stages['rows'])));
        $svg = new Svg(self::WIDTH, $each * count($stages['rows']) + 4, 'Visitors at each stage, by variant; the table has the same');
        foreach ($stages['rows'] as $i => $row) {
            $svg->text(232, $each * $i + 8 * $variants + 6, $row['words'], 'end', $row['off']);
            foreach ($row['observed'] as $v => $number) {
                $svg->bar(240, $each * $i + 15 * $v + 4, 320 * $number / $most, 12, $v === 0 ? 'stripes' : ($v % 2 === 1 ? 'dark' : 'mid'));
                $svg->text(246 + 320 * $number / $most, $each * $i + 15 * $v + 14, $stages['variants'][$v].' '.Html::count($number));
            }
            if ($row['stage'] === $stages['first_break']) {
                $svg->line(0, $each * $i + 1, self::WIDTH, $each * $i + 1, true);
                $svg->text(0, $each * $i + 12, 'the split breaks here', 'start', true);
            }
        }

        return "<figure>{$svg}<figcaption>Visitors at each stage of their way.</figcaption></figure>";
    }

    /** @param array<string, mixed> $volume */
    public static function volume(array $volume, \DateTimeZone $zone): string
    {
        $rows = $volume['rows'];
        if (count($rows) < 2) {
            return '';
        }
        $height = 190;
        $times = array_map(static fn (array $row): int => self::time($row['at']), $rows);
        $most = max(1.0, ...array_map(static fn (array $row): float => max((float) $row['events'], (float) ($row['expected'] ?? 0)), $rows));
        $x = self::scale($times[0], $times[count($times) - 1] + 3600 * $volume['step_hours']);
        $y = static fn (float $number): float => 12 + ($height - 40) * (1 - $number / $most);
        $svg = new Svg(self::WIDTH, $height, count($volume['gaps']) === 0 ? 'Events by the hour: no stretch has too few' : 'Events by the hour, with '.count($volume['gaps']).' stretches of too few');
        foreach (array_values($volume['gaps']) as $i => $gap) {
            $from = $gap['since'] === null ? $times[0] : max($times[0], self::time($gap['since']));
            $to = $gap['until'] === null ? $times[count($times) - 1] : min($times[count($times) - 1], self::time($gap['until']));
            $svg->bar($x($from), 12, $x($to) - $x($from), $height - 40, 'stripes');
            $svg->text($x($from) + 2, 10, (string) ($i + 1), 'start', true);
        }
        $svg->path(array_map(static fn (int $i): array => [$x($times[$i]), $y((float) $rows[$i]['events'])], array_keys($rows)), 1.1);
        $expected = array_filter(array_keys($rows), static fn (int $i): bool => $rows[$i]['expected'] !== null);
        $svg->path(array_map(static fn (int $i): array => [$x($times[$i]), $y((float) $rows[$i]['expected'])], array_values($expected)), 0.7, true);
        $svg->line(self::LEFT, $y(0.0), self::WIDTH - self::RIGHT, $y(0.0));
        foreach ([0.0, $most / 2, $most] as $number) {
            $svg->text(self::LEFT - 6, $y($number) + 4, Html::count((int) round($number)), 'end');
        }
        self::times($svg, $x, $times[0], $times[count($times) - 1], $height - 10, $zone);

        return "<figure>{$svg}<figcaption>Events of people, by ".($volume['step_hours'] === 1 ? 'the hour' : "{$volume['step_hours']} hours").'. Dashed: what was to be expected of that hour of the week. Striped: too few.</figcaption></figure>';
    }

    /** @param array<string, mixed> $orders */
    public static function orders(array $orders): string
    {
        $rows = $orders['rows'];
        if ($rows === []) {
            return '';
        }
        $height = 150;
        $most = max(1, ...array_column($rows, 'orders'));
        $wide = (self::WIDTH - self::LEFT - self::RIGHT) / count($rows);
        $svg = new Svg(self::WIDTH, $height, Html::count($orders['orders']).' orders by their value');
        foreach ($rows as $i => $row) {
            $tall = ($height - 36) * $row['orders'] / $most;
            $svg->bar(self::LEFT + $wide * $i, $height - 24 - $tall, $wide - 1, $tall, $orders['limit'] !== null && $row['from'] >= $orders['limit'] ? 'dark' : 'stripes');
            $i % max(1, (int) ceil(count($rows) / 10)) === 0 && $svg->text(self::LEFT + $wide * $i, $height - 8, number_format($row['from'], $row['from'] < 10 ? 1 : 0, '.', "\u{202f}"));
        }
        $svg->text(self::LEFT - 6, 16, Html::count($most), 'end');
        $svg->line(self::LEFT, $height - 24, self::WIDTH - self::RIGHT, $height - 24);

        return "<figure>{$svg}<figcaption>Orders by their value. Filled: far from all others.</figcaption></figure>";
    }

    private static function time(string $at): int
    {
        return (new \DateTimeImmutable($at))->getTimestamp();
    }

    /** @return \Closure(int): float */
    private static function scale(int $from, int $to): \Closure
    {
        return static fn (int $at): float => self::LEFT + (self::WIDTH - self::LEFT - self::RIGHT) * ($at - $from) / max(1, $to - $from);
    }

    /** @param \Closure(int): float $x */
    private static function times(Svg $svg, \Closure $x, int $from, int $to, float $y, \DateTimeZone $zone): void
    {
        for ($i = 0; $i <= 6; $i++) {
            $at = $from + (int) (($to - $from) * $i / 6);
            $svg->text($x($at), $y, (new \DateTimeImmutable("@{$at}"))->setTimezone($zone)->format($to - $from > 3 * 86_400 ? 'j M' : 'j M H:i'), $i === 0 ? 'start' : ($i === 6 ? 'end' : 'middle'));
        }
    }
}
