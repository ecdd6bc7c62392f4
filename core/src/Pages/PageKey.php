<?php

declare(strict_types=1);

namespace Pellix\Core\Pages;

use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Rules\Spelling;

/**
 * One page, whatever is added to its address from visit to visit: the address in one spelling (RFC 3986, 6.2.2), without
 * its query but for the parameters that the site names, and without its fragment but for one that is written like a path,
 * as applications on a single page do.
 */
final readonly class PageKey
{
    /**
     * @param string $text the address in that spelling
     * @param int    $id   64 bits of the SHA-256 of the text, as a signed integer: a number to join by that nobody has to give out
     */
    private function __construct(public string $text, public int $id)
    {
    }

    /** @param list<string> $parameters names of query parameters that tell one page from another, in the order of the key */
    public static function of(string $url, array $parameters = []): self
    {
        if (preg_match('~\A([A-Za-z][A-Za-z0-9+.-]*)://(?:[^/?#]*@)?([^/?#]*)([^?#]*)[^#]*(?:#(?:(!?/.*)|.*))?\z~s', $url, $m, PREG_UNMATCHED_AS_NULL) !== 1) {
            return self::named($url);
        }
        $scheme = strtolower((string) $m[1]);
        $host = preg_replace($scheme === 'https' ? '/:(443)?\z/' : '/:(80)?\z/', '', strtolower((string) $m[2]));
        $path = self::withoutDots(Spelling::path((string) $m[3]) ?: '/');

        return self::named("{$scheme}://{$host}{$path}".self::query($url, $parameters).(isset($m[4]) ? "#{$m[4]}" : ''));
    }

    /** RFC 3986, 5.2.4, for a path that begins with a slash. */
    private static function withoutDots(string $path): string
    {
        if (! str_contains($path, '/.')) {
            return $path;
        }
        $kept = [];
        $segments = explode('/', substr($path, 1));
        foreach ($segments as $segment) {
            if ($segment === '..') {
                array_pop($kept);
            } elseif ($segment !== '.') {
                $kept[] = $segment;
            }
        }
        if (in_array(end($segments), ['.', '..'], true)) {
            $kept[] = '';
        }

        return '/'.implode('/', $kept);
    }

    private static function named(string $text): self
    {
        /** @var array{1: int} $word */
        $word = unpack('J', hash('sha256', $text, true));

        return new self($text, $word[1]);
    }

    /** @param list<string> $parameters */
    private static function query(string $url, array $parameters): string
    {
        if ($parameters === []) {
            return '';
        }
        $address = AddressFacts::of($url);
        $pairs = [];
        foreach ($parameters as $name) {
            $value = $address->get("url.query.{$name}");
            if ($value !== null) {
                $pairs[] = rawurlencode($name).'='.rawurlencode($value);
            }
        }

        return $pairs === [] ? '' : '?'.implode('&', $pairs);
    }
}
