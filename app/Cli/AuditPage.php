<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Report;

/** An audit as one HTML page that needs nothing else, to be sent to somebody. */
final class AuditPage
{
    private const STYLE = 'body{font:16px/1.5 system-ui,sans-serif;color:#1B2430;background:#F6F5F0;margin:0 auto;max-width:60rem;padding:2rem}
h1{font-size:1.4rem}h2{font-size:1.1rem;margin-top:2rem}section{background:#fff;border:1px solid #D9D6CC;padding:1rem 1.25rem;margin:1rem 0}section section{margin-left:1rem}
.blocker{border-left:4px solid #B3261E}.warning{border-left:4px solid #A66A00}.note{border-left:4px solid #7A7F87}code{font-family:ui-monospace,monospace;font-size:.875rem}
table{border-collapse:collapse;width:100%;font-variant-numeric:tabular-nums;background:#fff}th,td{border:1px solid #D9D6CC;padding:.25rem .5rem;text-align:left;vertical-align:top}td.n{text-align:right}.soft{color:#5A6472}';

    private const MOST_SEGMENTS = 40;

    public static function of(Report $report): string
    {
        $all = $report->toArray();
        $e = self::escaped(...);
        $body = '<h1>Audit of <code>'.$e($all['experiment']).'</code>: '.$e($all['verdict']).'</h1><p><strong>'.$e($all['sentence']).'</strong></p>';
        $body .= '<p class="soft">'.$e(number_format($all['counts']['events'], 0, '.', ' ')).' events of '.$e(number_format($all['counts']['visitors'], 0, '.', ' ')).' visitors, '
            .$e($all['period']['from'] ?? '–').' to '.$e($all['period']['to'] ?? '–').' (UTC).</p>';
        $body .= '<h2>Findings</h2>'.($report->findings === [] ? '<p>None.</p>' : implode('', array_map(self::finding(...), $report->findings)));
        $body .= '<h2>Split</h2>'.self::split($all).'<h2>Stages</h2>'.self::table(['stage', ...array_keys($all['counts']['variants']), 'p'], array_map(static fn (array $one): array => [$one['stage'], ...$one['observed'], self::p($one['p'])], $all['srm']['stages']));
        $body .= '<h2>Segments, the worst first</h2>'.self::table(['dimension', 'value', ...array_keys($all['counts']['variants']), 'p', 'q'], array_map(static fn (array $one): array => [$one['dimension'], $one['value'], ...$one['observed'], self::p($one['p']), self::p($one['q'])], array_slice($all['srm']['segments'], 0, self::MOST_SEGMENTS)));
        $body .= '<h2>Checks</h2>'.self::table(['check', 'ran', 'why not'], array_map(static fn (array $one): array => [$one['code'], $one['ran'] ? 'yes' : 'no', (string) $one['why']], $all['checks']));
        if ($all['skipped'] !== []) {
            $body .= '<h2>Lines that were left out</h2>'.self::table(['line', 'reason'], array_map(static fn (array $one): array => [$one['line'], $one['reason']], $all['skipped']));
        }

        return '<!DOCTYPE html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta http-equiv="Content-Security-Policy" content="default-src \'none\'; style-src \'unsafe-inline\'">'
            .'<title>Audit of '.$e($all['experiment']).'</title><style>'.self::STYLE."</style></head><body>{$body}</body></html>\n";
    }

    private static function finding(Finding $finding): string
    {
        $e = self::escaped(...);
        $list = static fn (string $head, array $items): string => $items === [] ? '' : "<p class=\"soft\">{$head}</p><ul>".implode('', array_map(static fn (string $one): string => '<li>'.self::escaped($one).'</li>', $items)).'</ul>';

        return "<section class=\"{$finding->severity->value}\"><p><code>{$finding->code->value}</code> · {$finding->severity->value} · {$e($finding->code->link()->label())}</p><p>{$e($finding->message)}</p>"
            .$list('It may be:', $finding->causes).$list('Next:', $finding->next)
            .'<details><summary>Numbers</summary><pre><code>'.$e((string) json_encode($finding->numbers, JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PARTIAL_OUTPUT_ON_ERROR)).'</code></pre></details>'
            .($finding->consequences === [] ? '' : '<p class="soft">What follows from it:</p>'.implode('', array_map(self::finding(...), $finding->consequences))).'</section>';
    }

    /** @param array<string, mixed> $all */
    private static function split(array $all): string
    {
        $overall = $all['srm']['overall'];
        $rows = [];
        foreach (array_keys($all['counts']['variants']) as $i => $variant) {
            $rows[] = [$variant, $all['counts']['variants'][$variant], $overall === null ? '–' : number_format($overall['expected'][$i], 1, '.', ' ')];
        }
        $sequential = $all['srm']['sequential'];

        return self::table(['variant', 'visitors', 'expected'], $rows)
            .'<p>'.($overall === null ? 'There is nothing to test.' : 'p = '.self::p($overall['p'])." ({$overall['test']}); ").'watched every day: p = '.self::p($sequential['p']).($sequential['crossed'] === null ? '.' : ', under the alarm level since '.self::escaped($sequential['crossed']).'.').'</p>';
    }

    /**
     * @param list<string|int>              $header
     * @param list<list<string|int|float>> $rows
     */
    private static function table(array $header, array $rows): string
    {
        $head = implode('', array_map(static fn (string|int $cell): string => '<th scope="col">'.self::escaped((string) $cell).'</th>', $header));
        $body = implode('', array_map(static fn (array $row): string => '<tr>'.implode('', array_map(static fn (string|int|float $cell): string => (is_string($cell) ? '<td>' : '<td class="n">').self::escaped((string) $cell).'</td>', $row)).'</tr>', $rows));

        return $rows === [] ? '<p>None.</p>' : "<table><thead><tr>{$head}</tr></thead><tbody>{$body}</tbody></table>";
    }

    private static function p(float $p): string
    {
        return $p >= 0.001 ? number_format($p, 3) : sprintf('%.1e', $p);
    }

    private static function escaped(string $text): string
    {
        return htmlspecialchars($text, ENT_QUOTES | ENT_SUBSTITUTE | ENT_HTML5);
    }
}
