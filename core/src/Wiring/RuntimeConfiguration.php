<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring;

use Pellix\Core\Assignment\Variants;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\Served;
use Pellix\Core\Wiring\Tags\TagSet;

/** Compiles what the in-page runtime needs of a site: decided here, merely interpreted there. */
final class RuntimeConfiguration
{
    /** So many parts of pages are watched. */
    private const MOST_AREAS = 50;

    /**
     * @param string           $collector address that beacons go to
     * @param list<Experiment> $running
     * @param TagSet           $tags      the published ones
     * @param list<Served>     $served    that have ended, and serve one variant to everybody
     * @param int              $version   number under which they were published; 0 for none
     * @param list<string>     $areas     selectors of parts of pages: that they were seen is told
     *
     * @return array<string, mixed> JSON object
     */
    public static function compile(SiteSettings $site, string $collector, array $running, TagSet $tags, int $version, array $served = [], array $areas = []): array
    {
        return [
            'site' => $site->key,
            'collector' => $collector,
            'hosts' => $site->hosts,
            'domain' => self::cookieDomain($site->hosts),
            'cookieSeconds' => $site->cookieDays * 86400,
            'sessionSeconds' => $site->sessionMinutes * 60,
            'dataLayer' => $site->dataLayer,
            'dataEvents' => array_map(static fn (DataEvent $event): array => $event->toArray(), $site->dataEvents),
            'ask' => $site->asksConsent,
            'gpc' => $site->honoursGpc,
            'experiments' => [...array_map(self::experiment(...), $running), ...array_map(self::served(...), $served)],
            ...($areas === [] ? [] : ['areas' => array_slice(array_values(array_unique($areas)), 0, self::MOST_AREAS)]),
            'wiring' => $version,
            'tags' => $tags->toArray(),
        ];
    }

    /**
     * The parts of the runtime that only some experiments need, of those that this site's do: each stands before the runtime in
     * the site's file, so that nobody waits for a second one.
     *
     * @param array{areas?: list<string>, experiments: list<array{redirect?: bool, variants: list<array{changes: list<array{kind: string, media?: string}>}>}>} $configuration as `compile()` makes it
     *
     * @return list<string> names of files in runtime/dist, without their ending
     */
    public static function parts(array $configuration): array
    {
        $needed = ['areas' => ($configuration['areas'] ?? []) !== []];
        foreach ($configuration['experiments'] as $experiment) {
            foreach ($experiment['variants'] as $variant) {
                $needed['script'] = ($needed['script'] ?? false) || in_array(ChangeKind::Script->value, array_column($variant['changes'], 'kind'), true);
                $needed['media'] = ($needed['media'] ?? false) || array_column($variant['changes'], 'media') !== [];
            }
            $needed['redirect'] = ($needed['redirect'] ?? false) || ($experiment['redirect'] ?? false);
        }

        return array_keys(array_filter($needed));
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

    /**
     * Whether a visitor has the same id on two of a site's hosts.
     *
     * @param list<string> $hosts
     */
    public static function shareCookie(array $hosts, string $one, string $other): bool
    {
        return $one === $other || self::cookieDomain($hosts) !== null;
    }

    /** @return array<string, mixed> */
    private static function experiment(Experiment $experiment): array
    {
        $variants = Variants::of(array_map(static fn (DeclaredVariant $variant) => $variant->variant, $experiment->variants));
        $ends = $variants->ends();

        return [
            ...self::where($experiment),
            'share' => $experiment->share,
            ...($experiment->unit === 'user' ? ['unit' => 'user'] : []),
            ...($experiment->group === null ? [] : ['group' => ['key' => $experiment->group->key, 'from' => $experiment->group->from ?? 0.0]]),
            ...($experiment->lifetimeDays === null ? [] : ['lifetimeDays' => $experiment->lifetimeDays]),
            'variants' => array_map(
                static fn (DeclaredVariant $variant, float $end): array => ['key' => $variant->variant->key, 'end' => $end, ...self::shown($variant), ...($variant->moves ? ['moves' => true] : [])],
                $experiment->variants,
                $ends,
            ),
        ];
    }

    /** @return array<string, mixed> nobody is assigned: the one variant is for all of its pages and its audience */
    private static function served(Served $one): array
    {
        return [
            ...self::where($one->experiment),
            'share' => 1.0,
            'serves' => true,
            'variants' => [['key' => $one->variant->variant->key, 'end' => 1.0, ...self::shown($one->variant)]],
        ];
    }

    /** @return array<string, mixed> */
    private static function where(Experiment $experiment): array
    {
        return [
            'key' => $experiment->key,
            'salt' => $experiment->salt,
                        'pages' => $experiment->pages->rule->toArray(),
            ...($experiment->trigger === null ? [] : ['trigger' => $experiment->trigger->toArray()]),
            ...($experiment->audience === null ? [] : ['audience' => $experiment->audience->toArray()]),
            ...($experiment->kind === 'redirect' ? ['redirect' => true] : []),
        ];
    }

    /** @return array<string, mixed> */
    private static function shown(DeclaredVariant $variant): array
    {
        return [
            'changes' => array_map(static fn (Change $change): array => $change->toArray(), $variant->made()),
            ...($variant->target === null ? [] : ['target' => $variant->target]),
        ];
    }
}
