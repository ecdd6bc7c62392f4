<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Audit\Exclusions\Effect;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Told;

/** An audit for people to read: the verdict, why, and what to do next. */
final class AuditText
{
    private const WIDTH = 110;

    public static function of(Report $report): string
    {
        $text = mb_strtoupper($report->verdict())."\n".self::wrapped($report->sentence(), '')."\n";
        $evidence = $report->evidence;
        $variants = array_map(static fn (string $key, int $n): string => "{$key} ".number_format($n, 0, '.', ' '), array_keys($evidence->variants()), array_values($evidence->variants()));
        $text .= self::wrapped(Told::count($evidence->lines, 'line').', '.Told::count($evidence->events(), 'event').', '.Told::count($evidence->visitors, 'visitor').'; exposed '.implode(', ', $variants).'.', '')."\n";
        foreach (Effect::all($evidence) as $one) {
            $text .= self::wrapped("Excluded by {$one->exclusion->name} ({$one->exclusion->kind->value}): ".Told::count($one->units, 'visitor').', '.Told::count($one->events, 'event').($one->logP === null ? '' : ', evenly of each variant with '.Told::p($one->logP)).'.', '');
        }
        foreach ($report->findings as $finding) {
            $text .= self::finding($finding, 0);
        }
        $silent = array_filter($report->checks, static fn (array $check): bool => ! $check['ran']);
        if ($silent !== []) {
            $text .= "Not looked at:\n";
            $reasons = [];
            foreach ($silent as $check) {
                $reasons[$check['why']][] = $check['code'];
            }
            foreach ($reasons as $why => $codes) {
                $text .= self::wrapped(implode(', ', $codes).": {$why}", '  ');
            }
        }
        foreach ($report->evidence->skipped->kinds as $reason => $lines) {
            $text .= self::wrapped("Left out, {$lines} ".($lines === 1 ? 'line' : 'lines').": {$reason}", '');
        }

        return $text;
    }

    private static function finding(Finding $finding, int $depth): string
    {
        $indent = str_repeat('    ', $depth);
        $text = self::wrapped(($depth > 0 ? 'It follows: ' : '')."[{$finding->severity->value}] {$finding->code->value}: {$finding->message}", $indent);
        if ($depth === 0) {
            foreach ($finding->causes as $cause) {
                $text .= self::wrapped("May be: {$cause}", "{$indent}  ");
            }
            foreach ($finding->next as $next) {
                $text .= self::wrapped("Next: {$next}", "{$indent}  ");
            }
        }
        foreach ($finding->consequences as $one) {
            $text .= self::finding($one, $depth + 1);
        }

        return $text.($depth === 0 ? "\n" : '');
    }

    public static function wrapped(string $text, string $indent): string
    {
        // What comes from a log may hold what a terminal would obey.
        $text = (string) preg_replace('/[\p{Cc}\p{Cf}]/u', '', mb_scrub($text));
        $lines = [];
        $line = '';
        foreach (explode(' ', $text) as $word) {
            if ($line !== '' && mb_strlen("{$line} {$word}") > self::WIDTH - strlen($indent)) {
                $lines[] = $line;
                $line = $word;
            } else {
                $line = $line === '' ? $word : "{$line} {$word}";
            }
        }

        return $indent.implode("\n{$indent}  ", [...$lines, $line])."\n";
    }
}
