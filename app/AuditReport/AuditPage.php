<?php

declare(strict_types=1);

namespace App\AuditReport;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Comparison;
use Pellix\Core\Audit\Explanation;
use Pellix\Core\Chain\Link;

/** An audit as one HTML page that needs nothing else: to be sent to somebody, read without scripts, and printed on A4. */
final class AuditPage
{
    private const VERDICTS = ['fit' => 'Fit to decide on', 'doubt' => 'In doubt', 'unfit' => 'Not fit to decide on'];

    private const MOST_SEGMENTS = 40;
    private const MOST_LOOKS = 60;

    /**
     * @param array<string, mixed> $report as `Report::toArray()` has it
     * @param array<string, mixed> $views  as `Views::of()` has them
     * @param string               $zone   in which times are told
     */
    public static function of(array $report, array $views, string $zone = 'UTC'): string
    {
        $e = Html::escaped(...);
        $place = new \DateTimeZone($zone);
        $at = static fn (?string $time): string => $time === null ? '–' : (new \DateTimeImmutable($time))->setTimezone($place)->format('j F Y H:i');
        $counts = $report['counts'];
        $body = '<p class="soft">Audit of <code>'.$e($report['experiment']).'</code></p><h1>'.$e($report['sentence']).'</h1><p><span class="verdict">'.self::VERDICTS[$report['verdict']].'</span></p>'
            .'<p class="soft">'.Html::count($counts['events']).' events of '.Html::count($counts['visitors']).' visitors, '.$at($report['period']['from']).' to '.$at($report['period']['to']).' ('.$e($zone).'); exposed '
            .$e(implode(', ', array_map(static fn (string $key, int $n): string => "{$key} ".Html::count($n), array_map(strval(...), array_keys($counts['variants'])), $counts['variants']))).'.'
            .' Engine '.$report['engine'].($report['fingerprint'] === '' ? '' : ', fingerprint of the events <code>'.$e($report['fingerprint']).'</code>').'.</p>';
        $body .= self::exclusions($report, $at);
        $body .= '<h2>Where on the signal chain</h2>'.self::chain($report);
        $body .= '<h2>Findings</h2>'.($report['findings'] === [] ? '<p>Nothing was found.</p>' : implode('', array_map(static fn (array $one): string => self::finding($one, $at), $report['findings'])));
        $body .= '<h2>Split over time</h2>'.implode('', Pictures::split($views['split'], $place)).self::split($report, $views['split'], $at);
        $body .= '<h2>Who is missing</h2>'.Pictures::segments($views['segments']).self::segments($views['segments']);
        $body .= '<h2>Stages</h2>'.Pictures::stages($views['stages']).Html::table(['stage', ...$views['stages']['variants'], 'p of the split'], array_map(static fn (array $row): array => [$row['words'], ...$row['observed'], Html::p($row['p'])], $views['stages']['rows']));
        if ($views['volume']['rows'] !== []) {
            $body .= '<h2>Volume</h2>'.Pictures::volume($views['volume'], $place).($views['volume']['gaps'] === [] ? '<p>No stretch has too few.</p>' : Html::table(['too few', 'events', 'expected'], array_map(static fn (array $gap): array => [$gap['words'], $gap['events'], number_format($gap['expected'], 1, '.', '')], $views['volume']['gaps'])));
        }
        if ($views['orders']['rows'] !== []) {
            $body .= '<h2>Orders</h2>'.Pictures::orders($views['orders']).self::orders($views['orders']);
        }
        $body .= '<h2>What was checked</h2>'.self::certificate($report);
        if ($report['skipped'] !== []) {
            $body .= '<h2>Lines that were left out, '.Html::count($counts['skipped']).' in all</h2>'.Html::table(['line', 'reason'], array_map(static fn (array $one): array => [$one['line'], $one['reason']], $report['skipped']));
        }

        return Sheet::of("Audit of {$report['experiment']}: ".self::VERDICTS[$report['verdict']], $body);
    }

    /**
     * What was left out, and whether that took as much of each variant.
     *
     * @param array<string, mixed>      $report
     * @param callable(?string): string $at
     */
    private static function exclusions(array $report, callable $at): string
    {
        if ($report['exclusions'] === []) {
            return '';
        }
        $variants = array_map(strval(...), array_keys($report['counts']['variants']));
        $rows = array_map(static fn (array $one): array => [$one['name'], $one['kind'], $at($one['made']), $one['visitors'], $one['events'], ...array_map(static fn (string $variant): int => $one['by_variant'][$variant] ?? 0, $variants), $one['p'] === null ? '–' : Html::p($one['p'])], $report['exclusions']);

        return '<h2>What was left out</h2><p>'.Html::count($report['counts']['excluded']).' of '.Html::count($report['counts']['excluded'] + $report['counts']['events']).' events are left out of everything below. Nothing is deleted: the same can be read with them.</p>'
            .Html::table(['exclusion', 'kind', 'made', 'visitors', 'events', ...array_map(static fn (string $variant): string => "exposed to {$variant}", $variants), 'p of an even part'], $rows);
    }

    /** @param array<string, mixed> $report */
    private static function chain(array $report): string
    {
        $found = $ran = [];
        foreach (Comparison::flat($report['findings']) as $one) {
            $found[$one['link']][$one['severity']] = ($found[$one['link']][$one['severity']] ?? 0) + 1;
        }
        foreach ($report['checks'] as $check) {
            $link = AuditCode::from($check['code'])->link()->value;
            $ran[$link] = ($ran[$link] ?? 0) + ($check['ran'] ? 1 : 0);
        }
        $rows = [];
        foreach (Link::cases() as $one) {
            $link = $one->value;
            $own = $found[$link] ?? [];
            $rows[] = [$one->label(), $own === [] ? (($ran[$link] ?? 0) > 0 ? 'nothing found' : 'not looked at') : implode(', ', array_map(static fn (string $severity, int $n): string => "{$n} {$severity}".($n === 1 ? '' : 's'), array_keys($own), $own)), $ran[$link] ?? 0];
        }

        return Html::table(['link', 'found', 'checks made'], $rows);
    }

    /**
     * @param array<string, mixed>       $finding
     * @param callable(?string): string $at
     */
    private static function finding(array $finding, callable $at): string
    {
        $e = Html::escaped(...);
        $list = static fn (string $head, array $items): string => $items === [] ? '' : "<p class=\"soft\">{$head}</p><ul>".implode('', array_map(static fn (string $one): string => '<li>'.Html::escaped($one).'</li>', $items)).'</ul>';
        $code = AuditCode::from($finding['code']);
        $about = Explanation::of($code);
        $when = $finding['since'] === null && $finding['until'] === null ? '' : '<p class="soft">'.($finding['since'] === null ? 'From the beginning' : 'Since '.$at($finding['since'])).($finding['until'] === null ? ', and it goes on.' : ' until '.$at($finding['until']).'.').'</p>';

        return "<section class=\"{$e($finding['severity'])}\"><p class=\"soft\">{$e($code->label())} · {$e($finding['severity'])} · ".$e($code->link()->label())." · <code>{$e($finding['code'])}</code></p><h3>{$e($finding['message'])}</h3>{$when}"
            .$list('It may be:', $finding['causes']).$list('What to do next:', $finding['next'])
            ."<p class=\"soft\">What makes this check fire though nothing is wrong: {$e($about->falsely)}</p>"
            .'<details open><summary>How it was decided, and its numbers</summary><p>'.$e($about->test).' <span class="soft">'.$e($about->source).'</span></p><pre tabindex="0"><code>'.$e((string) json_encode((object) $finding['numbers'], JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PARTIAL_OUTPUT_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION)).'</code></pre></details>'
            .($finding['consequences'] === [] ? '' : '<p class="soft">What follows from it:</p>'.implode('', array_map(static fn (array $one): string => self::finding($one, $at), $finding['consequences']))).'</section>';
    }

    /**
     * @param array<string, mixed>      $report
     * @param array<string, mixed>      $split
     * @param callable(?string): string $at
     */
    private static function split(array $report, array $split, callable $at): string
    {
        $overall = $report['srm']['overall'];
        $sequential = $report['srm']['sequential'];
        $rows = [];
        foreach (array_keys($report['counts']['variants']) as $i => $variant) {
            $rows[] = [(string) $variant, $report['counts']['variants'][$variant], $overall === null ? '–' : number_format($overall['expected'][$i], 1, '.', "\u{202f}")];
        }
        $looks = array_slice($split['looks'], -self::MOST_LOOKS);
        $header = ['until', 'epoch'];
        foreach ($split['variants'] as $variant) {
            array_push($header, $variant, 'share', 'bounds');
        }

        return Html::table(['variant', 'visitors', 'expected'], $rows)
            .'<p>'.($overall === null ? 'There is nothing to test.' : 'p = '.Html::p($overall['p'])." ({$overall['test']}); ").'watched every day: p = '.Html::p($sequential['p']).($sequential['crossed'] === null ? '.' : ', under the alarm level since '.Html::escaped($sequential['crossed']).'.').'</p>'
            .'<details><summary>Look by look</summary>'.Html::table($header, array_map(static function (array $look) use ($at): array {
                $row = [$at($look['until']), $look['epoch'] + 1];
                foreach ($look['visitors'] as $i => $number) {
                    array_push($row, $number, Html::percent($look['share'][$i], 2), Html::percent($look['low'][$i], 2).' to '.Html::percent($look['high'][$i], 2));
                }

                return $row;
            }, $looks)).'</details>';
    }

    /** @param array<string, mixed> $segments */
    private static function segments(array $segments): string
    {
        return Html::table(['segment', ...$segments['variants'], 'misses most', 'missing', 'of its own', 'p', 'q'], array_map(static fn (array $row): array => [
            "{$row['dimension']} {$row['value']}", ...array_map(static fn (int $own, float $mean): string => Html::count($own).' of '.number_format($mean, 1, '.', "\u{202f}"), $row['observed'], $row['expected']),
            $row['variant'], (int) round(max(0.0, max($row['missing']))), Html::percent($row['part']), Html::p($row['p']), Html::p($row['q']).($row['off'] ? ', off' : ''),
        ], array_slice($segments['rows'], 0, self::MOST_SEGMENTS)), Html::count($segments['tested']).' segments were tested; '.Html::count(min(self::MOST_SEGMENTS, count($segments['rows']))).' are told. q is p, adjusted over all of them.');
    }

    /** @param array<string, mixed> $orders */
    private static function orders(array $orders): string
    {
        $rows = [];
        foreach ($orders['variants'] as $one) {
            $far = array_filter($one['largest'], static fn (array $order): bool => $order['far']);
            $rows[] = [$one['variant'], $one['orders'], number_format($one['sum'], 2, '.', "\u{202f}"), number_format($one['per_visitor'], 4, '.', ''), count($far), number_format($one['per_visitor_without'], 4, '.', '')];
        }

        return Html::table(['variant', 'orders', 'sum', 'per visitor', 'far from all others', 'per visitor without them'], $rows);
    }

    /** @param array<string, mixed> $report */
    private static function certificate(array $report): string
    {
        $ran = array_filter($report['checks'], static fn (array $one): bool => $one['ran']);
        $found = array_count_values(array_column(Comparison::flat($report['findings']), 'code'));

        return '<p>'.count($ran).' of '.count($report['checks']).' checks were made on '.Html::count($report['counts']['events']).' events. The smallest fault of a check is the one that nine of ten made-up logs of 10'."\u{202f}".'000 visitors showed, as a fault of <code>bin/pellix simulate</code>; of more visitors smaller ones show.</p>'
            .Html::table(['check', 'what it looks for', 'result', 'smallest fault seen'], array_map(static function (array $one) use ($found): array {
                $code = AuditCode::from($one['code']);
                $about = Explanation::of($code);

                return [$code->label()." ({$one['code']})", $about->what, $one['ran'] ? (isset($found[$one['code']]) ? $found[$one['code']].' found' : 'nothing found') : 'not looked at: '.$one['why'], $about->smallest === '' ? 'not measured' : $about->smallest];
            }, $report['checks']));
    }
}
