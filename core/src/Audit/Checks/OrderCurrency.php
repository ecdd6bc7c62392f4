<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Orders in another currency than the goal's (or than most), or in none. */
final class OrderCurrency implements Check
{
    private const FEWEST = 3;

    /** Of the orders (common practice, no source). */
    private const NOTED = 0.005;
    private const SPOILS = 0.02;

    public function code(): AuditCode
    {
        return AuditCode::OrderCurrency;
    }

    public function look(Evidence $evidence): array
    {
        $sum = $evidence->tally->orders;
        $all = $sum->orders->total();
        if ($all === 0) {
            throw new NotRun('The log has no orders.');
        }
        $numbers = array_map(static fn ($cohorts): int => $cohorts->total(), $sum->currencies);
        arsort($numbers);
        $usual = '';
        foreach ($evidence->setup->goals as $goal) {
            $usual = $usual === '' && $goal->currency !== null && $goal->valueProp !== null && isset($numbers[$goal->currency]) ? $goal->currency : $usual;
        }
        $usual = $usual === '' ? (string) array_key_first($numbers) : $usual;
        $found = [];
        foreach ($numbers as $currency => $number) {
            $currency = (string) $currency;
            if ($currency === $usual || $number < self::FEWEST || $number / $all < self::NOTED) {
                continue;
            }
            $where = Culprit::among($sum->currencies[$currency], $sum->orders, $evidence->setup);
            $found[] = $where->finding(
                AuditCode::OrderCurrency,
                $number / $all >= self::SPOILS ? Severity::Warning : Severity::Note,
                Told::count($number, 'order').' ('.Told::percent($number / $all).')'.$where->told($evidence->setup->settings).' are'.($currency === '' ? ' in no currency' : " in {$currency}").', the others in '.($usual === '' ? 'none' : $usual).': added up, their values mean nothing.',
                event: 'order',
                numbers: ['currency' => $currency === '' ? null : $currency, 'usual' => $usual === '' ? null : $usual, 'orders' => $number, 'all' => $all, 'part' => round($number / $all, 6)],
                causes: ['The site sells in several currencies, and the event carries the one that was paid in.', 'The currency is missing on some pages.'],
                next: ['Convert before sending, or count each currency by itself.'],
                weight: $number / $all,
            );
        }

        return $found;
    }
}
