<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Chain\Words;
use Pellix\Core\Statistics\InvalidCounts;
use Pellix\Core\Statistics\SampleRatio;
use Pellix\Core\Statistics\SampleRatioResult;

/** `bin/pellix srm 821588 815482 --weights=50,50 --json` */
final class SrmCommand
{
    /**
     * @param list<string> $arguments
     * @param resource     $out
     * @param resource     $err
     *
     * @return int 0 balanced, 1 mismatch, 2 bad input
     */
    public static function run(array $arguments, $out, $err): int
    {
        try {
            $line = CommandLine::parse($arguments, ['weights', 'alpha'], ['json']);
            $counts = array_map(static fn (string $word): int => self::count($word), $line->words);
            $weights = $line->value('weights') === null
                ? array_fill(0, count($counts), 1)
                : array_map(static fn (string $word): float => Number::of(trim($word), '--weights'), explode(',', $line->value('weights')));
            $alpha = $line->value('alpha') === null ? SampleRatio::ALPHA : Number::of($line->value('alpha'), '--alpha');
            $result = SampleRatio::test($counts, $weights, $alpha);
        } catch (BadUsage $e) {
            fwrite($err, "srm: {$e->getMessage()}\n");

            return 2;
        } catch (InvalidCounts $e) {
            fwrite($err, "srm: {$e->field}: {$e->getMessage()}\n");

            return 2;
        }
        fwrite($out, ($line->has('json') ? json_encode($result->toArray(), JSON_THROW_ON_ERROR) : self::sentence($result))."\n");

        return $result->isMismatch() ? 1 : 0;
    }

    private static function count(string $word): int
    {
        if (preg_match('/\A\d{1,16}\z/', $word) !== 1) {
            throw new BadUsage("\"{$word}\" is no count: a whole number of visitors, not negative, up to 9007199254740992, is needed.");
        }

        return (int) $word;
    }

    private static function sentence(SampleRatioResult $result): string
    {
        $expected = implode(', ', array_map(static fn (float $x): string => number_format($x, 1, '.', ''), $result->expected));

        return ($result->isMismatch() ? 'Mismatch' : 'Balanced').': observed '.implode(', ', $result->observed)." against expected {$expected}; "
            .'p '.(str_starts_with($p = Words::p($result->logP), 'under') ? $p : "= {$p}")." ({$result->test}, alarm under {$result->alpha}).";
    }
}
