<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Chain\Link;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;

/**
 * Whether visitors get the variant that the core computes, keep it, and are split as weighted.
 *
 * @phpstan-type Kept array{id: string|null, variant: string|null}
 * @phpstan-type Cookie array{expires?: float|int, sameSite?: string, secure?: bool, path?: string, domain?: string, ...}
 */
final class AssignmentJudge
{
    /** A cookie's end may be off by so many seconds. */
    private const SLACK = 120;

    /**
     * @param Kept   $first what the browser kept of a visitor at first
     * @param Kept   $now   what it keeps now
     * @param string $when  what happened in between, in words
     *
     * @return Finding|null null where nothing was lost
     */
    public static function lost(array $first, array $now, string $when, string $variant): ?Finding
    {
        $lost = match (true) {
            $now['id'] === null => ["the cookie plx_visitor is gone {$when}", 'Something on the page deletes it, or the browser did not keep it.'],
            $now['id'] !== $first['id'] => ["the visitor has another id {$when}", "The cookie plx_visitor was {$first['id']}, and is {$now['id']}: it was dropped, and given anew."],
            $now['variant'] === null => ["the cookie plx_variants has lost it {$when}", 'Something on the page deletes it.'],
            $now['variant'] !== $first['variant'] => ["it is “{$now['variant']}” {$when}, and was “{$first['variant']}”", 'The cookie plx_variants was written by somebody else.'],
            default => null,
        };

        return $lost === null ? null : self::finding($lost[0], $lost[1], $variant);
    }

    /** Of somebody who has entered, and of whom nothing is kept once the page is loaded. */
    public static function neverKept(?string $id, string $variant): Finding
    {
        return self::finding('nothing of it is kept once the page is loaded', $id === null ? 'The cookies plx_visitor and plx_variants are gone: something on the page deletes them.' : 'The cookie plx_variants is gone: something on the page deletes it.', $variant);
    }

    /**
     * @param array<string, Cookie> $cookies by their names, as the browser keeps them
     * @param int                   $days    that they are to last
     * @param bool                  $secure  whether the page is got over TLS
     * @param string|null           $domain  that they are for; null for the host alone
     * @param float                 $now     seconds since 1970
     */
    public static function cookies(array $cookies, int $days, bool $secure, ?string $domain, float $now, string $variant): Finding|Proof
    {
        $wrong = [];
        foreach (['plx_visitor', 'plx_variants'] as $name) {
            $cookie = $cookies[$name] ?? null;
            if ($cookie === null) {
                $wrong[] = "{$name} is not there";
                continue;
            }
            $left = (float) ($cookie['expires'] ?? 0) - $now;
            abs($left - 86_400 * $days) <= self::SLACK || $wrong[] = "{$name} lasts ".round(max(0.0, $left) / 86_400, 1)." days, not {$days}";
            ($cookie['sameSite'] ?? '') === 'Lax' || $wrong[] = "{$name} is SameSite ".($cookie['sameSite'] ?? 'unset').', not Lax';
            ($cookie['secure'] ?? false) === $secure || $wrong[] = "{$name} is ".($secure ? 'not ' : '').'Secure';
            ($cookie['path'] ?? '') === '/' || $wrong[] = "{$name} is for the path ".($cookie['path'] ?? '').', not /';
            $domain === null || ltrim($cookie['domain'] ?? '', '.') === $domain || $wrong[] = "{$name} is for ".($cookie['domain'] ?? 'nothing').", not {$domain}";
        }

        return $wrong === []
            ? new Proof(Link::Split, "The cookies last {$days} days, for ".($domain ?? 'this host').', SameSite Lax'.($secure ? ', Secure.' : '.'), $variant)
            : new Finding(CheckCode::AssignmentCookie, 'The cookies are not as declared: '.implode('; ', $wrong).'.', '', 'See which script or server writes them, too.', $variant);
    }

    /**
     * Quick visitors, of whom only the assignment is looked at.
     *
     * @param list<array{0: string, 1: string|null, 2: list<string>}> $visitors id, variant that the browser gave, keys of other experiments that they are in
     * @param list<string> $members keys of the other experiments of its group
     * @param float        $alpha   under which a split is taken for another than the weights say
     *
     * @return array{findings: list<Finding>, proofs: list<Proof>, counts: array<string, int>, differing: int}
     */
    public static function quick(array $visitors, Experiment $experiment, array $members, float $alpha): array
    {
        $assigner = $experiment->assigner();
        $counts = $overlap = $findings = [];
        $differing = 0;
        foreach ($visitors as [$id, $variant, $others]) {
            $differing += $variant === $assigner->variantOf($id) ? 0 : 1;
            if ($variant !== null) {
                $counts[$variant] = ($counts[$variant] ?? 0) + 1;
                $overlap = [...$overlap, ...array_intersect($others, $members)];
            }
        }
        if ($differing > 0) {
            $findings[] = new Finding(CheckCode::AssignmentDiffers, 'Of '.count($visitors)." quick visitors, {$differing} got another variant than the core computes.", 'The file that pages load assigns by another salt, share or weights.', 'Publish the experiment again, and see which number pages get.', evidence: ['step' => 'quick']);
        }
        if ($overlap !== []) {
            $findings[] = new Finding(CheckCode::GroupOverlap, 'Visitors are in two experiments of the group: also in '.implode(', ', array_unique($overlap)).'.', 'Members of a group are to share nobody.', 'See whether the stretches of the group overlap, and publish again.');
        }
        $split = self::split($counts, $experiment, $alpha, $differing > 0);

        return ['findings' => [...$findings, ...$split instanceof Finding ? [$split] : []], 'proofs' => [
            ...$split instanceof Proof ? [$split] : [],
            ...$members !== [] && $overlap === [] && $counts !== [] ? [new Proof(Link::Split, 'None of them is in another experiment of the group.')] : [],
        ], 'counts' => $counts, 'differing' => $differing];
    }

    /** @param array<string, int> $counts */
    private static function split(array $counts, Experiment $experiment, float $alpha, bool $differs): Finding|Proof|null
    {
        $weighted = array_values(array_filter($experiment->variants, static fn (DeclaredVariant $one): bool => $one->variant->weight > 0));
        if ($counts === [] || count($weighted) < 2) {
            return null;
        }
        $observed = array_map(static fn (DeclaredVariant $one): int => $counts[$one->variant->key] ?? 0, $weighted);
        ['p' => $p, 'test' => $test] = QuickSplit::test($observed, array_map(static fn (DeclaredVariant $one): float => $one->variant->weight, $weighted));
        $words = implode(' : ', $observed);

        return $p < $alpha
            ? new Finding(CheckCode::AssignmentSplit, 'Of '.array_sum($observed)." quick visitors who entered, {$words} got the variants, which the weights do not explain.", 'p = '.sprintf('%.2g', $p)." ({$test}).", 'Rehearse again; if it stays, see whether the published file is as declared.', evidence: ['p' => $p])
            : new Proof(Link::Split, array_sum($observed)." quick visitors were split {$words}, as weighted (p = ".number_format($p, 2).", {$test})".($differs ? '.' : ', and each as the core computes.'));
    }

    private static function finding(string $what, string $cause, string $variant): Finding
    {
        return new Finding(CheckCode::AssignmentLost, "Visitors lose their variant: {$what}.", $cause, 'See which script of the page, or which answer of the server, deletes cookies that it does not know, or which setting keeps them from lasting.', $variant);
    }
}
