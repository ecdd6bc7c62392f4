<?php

declare(strict_types=1);

namespace App\ReadoutReport;

use App\AuditReport\Html;
use App\AuditReport\Sheet;

/** A readout as one HTML page that needs nothing else. Where the cover was lifted, it says so before any figure. */
final class ReadoutPage
{
    private const VERDICTS = ['better' => 'Better', 'worse' => 'Worse', 'not-worse' => 'Not worse', 'no-difference' => 'No difference found', 'too-early' => 'Too early to say'];

    /** @param array<string, mixed> $report as `Readout::toArray()` has it, perhaps with `segments`, `course` and `values` */
    public static function of(array $report): string
    {
        $e = Html::escaped(...);
        $gate = $report['gate'];
        $shows = $gate['open'] || $gate['lifted'];
        $name = $report['experiment'] ?? 'a table of counts';
        $body = '<p class="soft">Readout of <code>'.$e($name).'</code></p><h1>'.$e($report['sentence']).'</h1>'
            .($gate['lifted'] ? '<section class="blocker"><h3>The data is not fit to decide on, and the figures are shown all the same</h3><p>The reason that was given: '.$e((string) $gate['reason']).'</p></section>' : '')
            .'<p class="soft">'.$e($report['why']).' Level '.Html::percent($report['level'], $report['level'] === 0.95 ? 0 : 1).(isset($report['at']) ? ', as of '.$e($report['at']) : '').'.</p>';
        if ($gate['findings'] !== []) {
            $body .= '<h2>What speaks against it</h2>'.implode('', array_map(static fn (array $one): string => "<section class=\"{$e($one['severity'])}\"><p class=\"soft\">{$e($one['severity'])} · <code>{$e($one['code'])}</code></p><p>{$e($one['message'])} {$e(implode(' ', $one['without'] ?? []))}</p></section>", $gate['findings']));
        }
        if ($shows) {
            $body .= '<h2>Goals</h2>'.implode('', array_map(self::goal(...), $report['goals']))
                .($report['visits'] === [] ? '' : '<h2>Visits</h2>'.implode('', array_map(self::figures(...), $report['visits'])))
                .(isset($report['course']) ? '<h2>Course</h2>'.CoursePicture::of($report['course'], array_column($report['goals'][0]['variants'], 'key')) : '')
                .(isset($report['segments']) ? '<h2>Parts of the visitors</h2>'.self::segments($report['segments']) : '')
                .implode('', array_map(self::values(...), $report['values'] ?? []));
        } else {
            $body .= '<h2>Goals</h2><p>Covered. Whoever lifts the cover gives a reason, which stays here.</p>';
        }

        return Sheet::of("Readout of {$name}", $body);
    }

    /** @param array<string, mixed> $goal */
    private static function goal(array $goal): string
    {
        $e = Html::escaped(...);

        return "<section><p class=\"soft\">{$e($goal['role'])} · {$e($goal['measure'])}</p><h3>{$e($goal['name'])}: ".(self::VERDICTS[$goal['verdict'] ?? ''] ?? 'Nothing to compare')."</h3><p>{$e($goal['sentence'])}</p>"
            .(isset($goal['disagreement']) ? "<p>{$e($goal['disagreement'])}</p>" : '').'</section>'.self::figures($goal).(isset($goal['by_rate']) ? self::figures($goal['by_rate']) : '');
    }

    /** @param array<string, mixed> $goal */
    private static function figures(array $goal): string
    {
        return Html::table(['variant', 'n', 'hits', $goal['measure'], 'difference', 'interval', 'relative', 'p', 'test', 'chance to be better', 'expected loss'], array_map(static fn (array $one): array => [
            $one['key'].($one['control'] ? ' (control)' : ''), $one['n'], $one['hits'], $one['told']['value'], $one['told']['difference'] ?? '', $one['told']['interval'] ?? '', $one['told']['relative'] ?? '',
            isset($one['difference']) ? Html::p($one['difference']['p']) : '', $one['difference']['test'] ?? '', isset($one['better']) ? Html::percent($one['better']) : '', $one['told']['loss'] ?? '',
        ], $goal['variants']), $goal['name'].' by '.$goal['measure']);
    }

    /** @param array<string, mixed> $segments */
    private static function segments(array $segments): string
    {
        $rows = [];
        foreach ($segments['dimensions'] as $dimension) {
            foreach ($dimension['rows'] as $row) {
                $rows[] = ["{$dimension['dimension']} {$row['value']}", $dimension['variant'], $row['n'], $row['control_n'], self::number($row['points']), self::number($row['low']).' to '.self::number($row['high']), Html::p($row['p']), Html::p($row['q']), $dimension['interaction'] === null ? '' : Html::p($dimension['interaction']['p'])];
            }
        }

        return '<p>'.Html::escaped($segments['warning']).'</p>'.Html::table(['segment', 'variant', 'n', 'n of the control', 'difference', 'interval', 'p', 'q', 'p that the segments of this kind are alike'], $rows, "Segments by {$segments['item']}");
    }

    /** @param array<string, mixed> $values */
    private static function values(array $values): string
    {
        $rows = array_map(static fn (array $one): array => [
            $one['key'], $one['n'], $one['with_value'], ...array_map(static fn (array $q): string => self::number($q['value']).' ('.self::number($q['low']).' to '.self::number($q['high']).')', $one['quantiles']),
            number_format($one['skewness'], 2, '.', ''), $one['largest'] === [] ? '' : Html::percent($one['largest'][0]['share']), $one['largest'] === [] ? '' : self::number($one['largest'][0]['mean_without']),
        ], $values['variants']);
        $bootstrap = array_map(static fn (array $one): string => "{$one['variant']} ".self::number($one['low']).' to '.self::number($one['high']), $values['bootstrap']);

        return '<h2>Values of '.Html::escaped($values['item']).'</h2>'.Html::table(['variant', 'n', 'with a value', 'median of these', '90 %', '99 %', 'skewness', 'the largest brings', 'mean without it'], $rows, "Values of {$values['item']}")
            .($bootstrap === [] ? '' : '<p>Values are skew for so few visitors; a bootstrap of the difference says: '.Html::escaped(implode('; ', $bootstrap)).'.</p>');
    }

    private static function number(?float $number): string
    {
        return $number === null ? '–' : (abs($number) >= 100 ? number_format($number, 0, '.', "\u{202f}") : rtrim(rtrim(number_format($number, 4, '.', ''), '0'), '.'));
    }
}
