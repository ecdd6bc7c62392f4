<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** The `url.*` facts of one absolute address. The browser's runtime splits `location.href` by the same expression. */
final readonly class AddressFacts implements Facts
{
    /** RFC 3986, appendix B, for an absolute address with an authority; which ends at a backslash too, as in browsers (WHATWG URL, 4.4). */
    private const PARTS = '~\A([^:/?#]+)://([^/?#\\\\]*)([^?#]*)(?:\?([^#]*))?(?:#(.*))?\z~s';

    private function __construct(
        private string $full,
        public string $host,
        public string $path,
        private ?string $query,
        private ?string $fragment,
    ) {
    }

    /** An address that is not absolute has no facts but `url.full`. */
    public static function of(string $url): self
    {
        if (preg_match(self::PARTS, $url, $m, PREG_UNMATCHED_AS_NULL) !== 1) {
            return new self($url, '', '', null, null);
        }
        // The host without user information and port, in lower case (RFC 3986, 3.2.2 and 6.2.2.1).
        $host = (string) preg_replace('~\A.*@|:\d*\z~s', '', $m[2]);

        return new self($url, strtolower($host), $m[3] === '' ? '/' : $m[3], $m[4] ?? null, $m[5] ?? null);
    }

    public function get(string $fact): ?string
    {
        if ($fact === 'url.full') {
            return $this->full;
        }
        if ($this->host === '') {
            return null;
        }

        return match (true) {
            $fact === 'url.host' => $this->host,
            $fact === 'url.path' => $this->path,
            $fact === 'url.fragment' => $this->fragment,
            str_starts_with($fact, 'url.query.') => $this->parameter(substr($fact, 10)),
            default => null,
        };
    }

    /** The first value of a query parameter; `?name` alone has the value ''. */
    private function parameter(string $name): ?string
    {
        foreach (explode('&', $this->query ?? '') as $pair) {
            [$key, $value] = explode('=', $pair, 2) + [1 => ''];
            if ($pair !== '' && self::decode($key) === $name) {
                return self::decode($value);
            }
        }

        return null;
    }

    /** Form decoding; a text whose escapes are malformed, or not UTF-8, stays as it is (where `decodeURIComponent` throws). */
    private static function decode(string $text): string
    {
        if (preg_match('/%(?![0-9A-Fa-f]{2})/', $text) === 1) {
            return $text;
        }
        $decoded = urldecode($text);

        return mb_check_encoding($decoded, 'UTF-8') ? $decoded : $text;
    }
}
