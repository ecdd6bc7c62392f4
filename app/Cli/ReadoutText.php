<?php

declare(strict_types=1);

namespace App\Cli;

/** A readout for people to read at a terminal: what it says, whether to believe it, and the figures. */
final class ReadoutText
{
    /** @param array<string, mixed> $report as `Readout::toArray()` has it */
    public static function of(array $report): string
    {
        $text = AuditText::wrapped($report['sentence'], '').AuditText::wrapped($report['why'], '')."\n";
        if ($report['gate']['lifted']) {
            $text .= AuditText::wrapped("The figures are shown though the data is not fit. The reason that was given: {$report['gate']['reason']}", '')."\n";
        }
        foreach ($report['gate']['findings'] as $finding) {
            $text .= AuditText::wrapped("[{$finding['severity']}] {$finding['code']}: {$finding['message']}".implode('', array_map(static fn (string $words): string => " {$words}", $finding['without'] ?? [])), '');
        }
        foreach ($report['gate']['open'] || $report['gate']['lifted'] ? [...$report['goals'], ...$report['visits']] : [] as $goal) {
            $text .= "\n".self::goal($goal);
        }

        return $text.($report['gate']['open'] || $report['gate']['lifted'] ? '' : "\nThe figures are covered. --reason=TEXT shows them; the reason stays with them.\n");
    }

    /** @param array<string, mixed> $goal */
    private static function goal(array $goal): string
    {
        $text = AuditText::wrapped("{$goal['name']} ({$goal['key']}, {$goal['role']}, {$goal['measure']}): ".($goal['verdict'] ?? 'nothing to compare'), '');
        $text .= sprintf("  %-24s %10s %10s %14s  %s\n", 'variant', 'n', 'hits', $goal['measure'], 'difference');
        foreach ($goal['variants'] as $one) {
            $difference = $one['difference'] ?? null;
            $text .= sprintf(
                "  %-24s %10d %10s %14s  %s\n",
                mb_strimwidth((string) preg_replace('/[\p{Cc}\p{Cf}]/u', '', $one['key']), 0, 24, '…'),
                $one['n'],
                $one['hits'] ?? '–',
                $one['told']['value'],
                $one['control'] ? 'control' : ($difference === null ? '–' : "{$one['told']['difference']} ({$one['told']['interval']})".($one['told']['relative'] === null ? '' : ", that is {$one['told']['relative']}").sprintf(', p = %.3g', $difference['p'])),
            );
        }
        $text .= $goal['role'] === 'visit' ? '' : AuditText::wrapped($goal['sentence'], '  ');

        return $text.(isset($goal['disagreement']) ? AuditText::wrapped($goal['disagreement'], '  ') : '').($goal['naive_differs'] ? AuditText::wrapped('Adding the epochs up would turn the sign of the difference; they are compared one by one, and joined.', '  ') : '');
    }
}
