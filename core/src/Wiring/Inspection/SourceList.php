<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

/** What the sources of a directive let through. Source: W3C Content Security Policy Level 3, 6.7.2 and 6.7.3. */
final readonly class SourceList
{
    private const HOST = '~\A(?:([a-z][a-z0-9+.-]*)://)?(\*|(?:\*\.)?[a-z0-9_-]+(?:\.[a-z0-9_-]+)*\.?|\[[0-9a-f:.]+\])(?::(\d+|\*))?(/.*)?\z~i';
    private const PORTS = ['http' => 80, 'ws' => 80, 'https' => 443, 'wss' => 443];

    /** @param string|null $page the page's own address, which 'self' means */
    public function __construct(private ?string $page)
    {
    }

    /**
     * @param list<string> $sources
     * @param bool         $ofScript whether it is about scripts, for which strict-dynamic forbids it as well
     */
    public static function allowsInline(array $sources, bool $ofScript): bool
    {
        foreach ($sources as $source) {
            if (self::nonce($source) !== null || self::hash($source) !== null || ($ofScript && strtolower($source) === "'strict-dynamic'")) {
                return false;
            }
        }

        return self::has($sources, "'unsafe-inline'");
    }

    /** @param list<string> $sources */
    public static function has(array $sources, string $keyword): bool
    {
        return in_array($keyword, array_map(strtolower(...), $sources), true);
    }

    /**
     * @param list<string>          $sources
     * @param array<string, string> $attributes of the element
     */
    public static function hasNonce(array $sources, array $attributes): bool
    {
        $nonce = $attributes['nonce'] ?? '';
        // An element that may have swallowed another one has no nonce (6.7.3.1).
        foreach ($attributes as $name => $value) {
            if (preg_match('/<(script|style)/i', "{$name} {$value}") === 1) {
                return false;
            }
        }

        return $nonce !== '' && in_array($nonce, array_map(self::nonce(...), $sources), true);
    }

    /** @param list<string> $sources */
    public static function hasHash(array $sources, string $text): bool
    {
        foreach ($sources as $source) {
            $hash = self::hash($source);
            if ($hash !== null && base64_encode(hash($hash[0], $text, true)) === $hash[1]) {
                return true;
            }
        }

        return false;
    }

    /**
     * Whether each of the strongest hashes that a script has for its file is among the sources (6.7.1.1).
     *
     * @param list<string> $sources
     */
    public static function hasIntegrity(array $sources, string $integrity): bool
    {
        preg_match_all('~(?:^|\s)(sha(?:256|384|512)-[A-Za-z0-9+/_-]+={0,2})(?=[\s?]|$)~', $integrity, $m);
        $wanted = array_map(static fn (string $one): ?array => self::hash("'{$one}'"), $m[1]);

        return $wanted !== [] && array_udiff($wanted, array_filter(array_map(self::hash(...), $sources)), static fn (?array $a, ?array $b): int => $a <=> $b) === [];
    }

    /** @param list<string> $sources */
    public function matches(array $sources, string $url): bool
    {
        [$scheme, $host, $port, $path] = $this->parts($url);
        foreach ($sources as $source) {
            if ($this->matchesOne($source, $scheme, $host, $port, $path)) {
                return true;
            }
        }

        return false;
    }

    private function matchesOne(string $source, string $scheme, string $host, int $port, string $path): bool
    {
        if ($source === '*') {
            return in_array($scheme, ['http', 'https', 'ws', 'wss'], true) || ($this->page !== null && $scheme === $this->parts($this->page)[0]);
        }
        if (strtolower($source) === "'self'") {
            [$ownScheme, $ownHost, $ownPort] = $this->page === null ? ['', '', 0] : $this->parts($this->page);

            return $host === $ownHost && self::isScheme($ownScheme, $scheme)
                && ($port === $ownPort || ($port === (self::PORTS[$scheme] ?? 0) && $ownPort === (self::PORTS[$ownScheme] ?? -1)));
        }
        if (preg_match('/\A([a-z][a-z0-9+.-]*):\z/i', $source, $m) === 1) {
            return self::isScheme(strtolower($m[1]), $scheme);
        }
        if (preg_match(self::HOST, $source, $m, PREG_UNMATCHED_AS_NULL) !== 1) {
            return false;
        }
        $wanted = strtolower((string) $m[2]);
        $isHost = $wanted === '*' || $wanted === $host || (str_starts_with($wanted, '*.') && str_ends_with($host, substr($wanted, 1)));
        $isScheme = self::isScheme($m[1] !== null ? strtolower($m[1]) : ($this->page === null ? $scheme : $this->parts($this->page)[0]), $scheme);
        $default = self::PORTS[$scheme] ?? 0;
        $isPort = $m[3] === '*' || ($m[3] === null ? $port === $default : (int) $m[3] === $port || ((int) $m[3] === 80 && $port === 443 && $default === 443));

        return $isHost && $isScheme && $isPort && self::isPath($m[4] ?? '', $path);
    }

    /** Schemes that are safer than what was asked for will do (6.7.2.9). */
    private static function isScheme(string $wanted, string $scheme): bool
    {
        return $wanted === $scheme || in_array([$wanted, $scheme], [['http', 'https'], ['ws', 'wss'], ['ws', 'http'], ['ws', 'https'], ['wss', 'https']], true);
    }

    /** A path that ends with a slash is a folder; any other is one file, in the same case (6.7.2.12). */
    private static function isPath(string $wanted, string $path): bool
    {
        $wanted = preg_replace('/[?#].*/s', '', $wanted);
        if ($wanted === '' || $wanted === '/') {
            return true;
        }
        $parts = array_map(rawurldecode(...), explode('/', (string) $wanted));
        $own = array_map(rawurldecode(...), explode('/', $path));
        if (end($parts) === '') {
            array_pop($parts);

            return count($own) > count($parts) && array_slice($own, 0, count($parts)) === $parts;
        }

        return $parts === $own;
    }

    private static function nonce(string $source): ?string
    {
        return preg_match("~\\A'nonce-([A-Za-z0-9+/_-]+={0,2})'\\z~i", $source, $m) === 1 ? $m[1] : null;
    }

    /** @return array{string, string}|null algorithm, hash in base64 */
    private static function hash(string $source): ?array
    {
        return preg_match("~\\A'(sha256|sha384|sha512)-([A-Za-z0-9+/_-]+={0,2})'\\z~i", $source, $m) === 1 ? [strtolower($m[1]), strtr($m[2], '-_', '+/')] : null;
    }

    /** @return array{string, string, int, string} scheme, host, port, path */
    private function parts(string $url): array
    {
        if (str_starts_with($url, '//')) {
            $url = ($this->page === null ? 'https' : strtolower((string) strstr($this->page, ':', true))).":{$url}";
        } elseif (str_starts_with($url, '/') && $this->page !== null) {
            $url = preg_replace('~\A([a-z]+://[^/?#]*).*\z~is', '$1', $this->page).$url;
        }
        preg_match('~\A([a-z][a-z0-9+.-]*)://(?:[^/?#@]*@)?(\[[^\]]*\]|[^/:?#]*)(?::(\d+))?([^?#]*)~i', $url, $m);
        $scheme = strtolower($m[1] ?? '');

        return [$scheme, strtolower($m[2] ?? ''), (int) ($m[3] ?? '') ?: (self::PORTS[$scheme] ?? 0), ($m[4] ?? '') === '' ? '/' : $m[4]];
    }
}
