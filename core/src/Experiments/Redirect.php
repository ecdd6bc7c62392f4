<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Rules\PageRule;

/**
 * Where a variant sends its visitors: another address of the site. runtime/src/redirect.ts puts the address together alike,
 * held to it by tests/vectors/redirects.json.
 */
final class Redirect
{
    private const LONGEST = 2000;

    /**
     * Refuses what is no target: it is an address with http or https, or a path on the host that the visitor is on.
     *
     * @throws InvalidExperiment
     */
    public static function check(string $target, string $field): void
    {
        if (strlen($target) > self::LONGEST || preg_match('~\A(?:https?://[^/?#@\s\\\\]+(?=[/?#]|\z)|/(?![/\\\\]))[^\s"<>\\\\^`{|}\x00-\x20\x7f]*\z~i', $target) !== 1) {
            throw new InvalidExperiment('The address of a page is needed: with http:// or https:// and a host, or a path that begins with one "/". At most '.self::LONGEST.' characters, no blanks.', $field);
        }
    }

    /**
     * The target for a visitor of an address: query and fragment are kept, and a parameter or a fragment of the target's own
     * wins. The target's parameters come first, the visitor's after them, each as it was written.
     */
    public static function merged(string $target, string $visited): string
    {
        [$base, $query, $fragment] = self::apart($target);
        [, $theirs, $place] = self::apart($visited);
        $own = self::pairs($query);
        $names = array_map(self::name(...), $own);
        $kept = array_filter(self::pairs($theirs), static fn (string $pair): bool => ! in_array(self::name($pair), $names, true));
        $all = implode('&', [...$own, ...$kept]);
        $fragment = $fragment === '' ? $place : $fragment;

        return $base.($all === '' ? '' : "?{$all}").($fragment === '' ? '' : "#{$fragment}");
    }

    /** The host that a target names; null for a path, which is on the host that the visitor is on. */
    public static function host(string $target): ?string
    {
        return str_starts_with($target, '/') ? null : AddressFacts::of($target)->host;
    }

    /** The address of a target, for visitors of an address with that origin (`https://host`). */
    public static function absolute(string $target, string $origin): string
    {
        return str_starts_with($target, '/') ? $origin.$target : $target;
    }

    /**
     * Whether the page that visitors are sent to is one that they are sent away from: then whoever opens it directly would be
     * in the experiment, and whoever arrives would be sent on.
     *
     * @param list<string> $hosts of the site, for a target that is a path
     */
    public static function returns(PageRule $pages, string $target, array $hosts): bool
    {
        foreach ($hosts === [] ? ['host.invalid'] : $hosts as $host) {
            if ($pages->matches(self::absolute($target, "http://{$host}"))) {
                return true;
            }
        }

        return false;
    }

    /** @return array{string, string, string} what stands before the query, the query, the fragment */
    private static function apart(string $address): array
    {
        [$page, $fragment] = explode('#', $address, 2) + ['', ''];
        [$base, $query] = explode('?', $page, 2) + ['', ''];

        return [$base, $query, $fragment];
    }

    /** @return list<string> */
    private static function pairs(string $query): array
    {
        return array_values(array_filter(explode('&', $query), static fn (string $pair): bool => $pair !== ''));
    }

    /** The name of a parameter, however its plain characters are written. */
    private static function name(string $pair): string
    {
        $name = str_replace('+', ' ', explode('=', $pair, 2)[0]);

        return (string) preg_replace_callback('/%[0-9a-f]{2}/i', static fn (array $m): string => hexdec(substr($m[0], 1)) < 128 ? chr((int) hexdec(substr($m[0], 1))) : strtoupper($m[0]), $name);
    }
}
