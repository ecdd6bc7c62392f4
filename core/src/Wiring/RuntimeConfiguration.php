<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring;

use Pellix\Core\Assignment\Variants;
use Pellix\Core\Experiments\Arm;
use Pellix\Core\Experiments\Experiment;

/** Compiles what the in-page runtime needs of a site: decided here, merely interpreted there. */
final class RuntimeConfiguration
{
    /**
     * @param string           $site       site key
     * @param string           $collector  address that beacons go to
     * @param list<string>     $hosts      the site's hosts, in lower case and without ports
     * @param int              $cookieDays lifetime of the visitor cookie, in days
     * @param list<Experiment> $running
     *
     * @return array<string, mixed> JSON object
     */
    public static function compile(string $site, string $collector, array $hosts, int $cookieDays, array $running): array
    {
        return [
            'site' => $site,
            'collector' => $collector,
            'hosts' => $hosts,
            'domain' => self::cookieDomain($hosts),
            'cookieSeconds' => $cookieDays * 86400,
            'experiments' => array_map(self::experiment(...), $running),
        ];
    }

    /**
     * The domain that one cookie can serve all hosts from: the host that all others lie below, or null for each its own.
     *
     * A cookie's Domain attribute covers a host and everything below it (RFC 6265, 5.1.3).
     *
     * @param list<string> $hosts
     */
    public static function cookieDomain(array $hosts): ?string
    {
        foreach ($hosts as $top) {
            $outside = array_filter($hosts, static fn (string $host): bool => $host !== $top && ! str_ends_with($host, ".{$top}"));
            if ($outside === [] && count($hosts) > 1) {
                return $top;
            }
        }

        return null;
    }

    /** @return array<string, mixed> */
    private static function experiment(Experiment $experiment): array
    {
        $variants = Variants::of(array_map(static fn (Arm $arm) => $arm->variant, $experiment->arms));
        $ends = $variants->ends();

        return [
            'key' => $experiment->key,
            'salt' => $experiment->salt,
            'share' => $experiment->share,
            'pages' => $experiment->pages->rule->toArray(),
            'variants' => array_map(
                static fn (Arm $arm, float $end): array => [
                    'key' => $arm->variant->key,
                    'end' => $end,
                    'changes' => array_map(static fn ($change): array => $change->toArray(), $arm->changes),
                ],
                $experiment->arms,
                $ends,
            ),
        ];
    }
}
