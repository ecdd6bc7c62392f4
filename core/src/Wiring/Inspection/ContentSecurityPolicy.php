<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

/**
 * Tells what of a snippet one Content-Security-Policy lets through. Source: W3C Content Security Policy Level 3: 6.7.1
 * (script-src), 6.7.2.8 (matching of URLs), 6.7.3.3 (inline), 8.2 (strict-dynamic).
 */
final readonly class ContentSecurityPolicy
{
    /** @param array<string, list<string>> $directives name => sources */
    private function __construct(private array $directives)
    {
    }

    public static function parse(string $policy): self
    {
        $directives = [];
        foreach (explode(';', $policy) as $part) {
            $words = preg_split('/[\t\n\f\r ]+/', trim($part), -1, PREG_SPLIT_NO_EMPTY) ?: [];
            $name = strtolower((string) array_shift($words));
            if ($name !== '' && ! isset($directives[$name])) {
                $directives[$name] = $words;
            }
        }

        return new self($directives);
    }

    /**
     * What the policy blocks of a snippet, and the source that would let it through.
     *
     * @param string      $text  the inline script
     * @param string|null $nonce its nonce attribute
     * @param string      $file  the address that it loads
     *
     * @return list<array{string, string}> directive, source to add
     */
    public function blocks(string $text, ?string $nonce, string $file): array
    {
        $origin = (string) preg_replace('~\A(https?://[^/]+).*\z~is', '$1', $file);
        $blocked = [];
        $script = $this->sources('script-src-elem', 'script-src', 'default-src');
        if ($script !== null) {
            [$name, $sources] = $script;
            $trusted = $this->trusts($sources, $text, $nonce);
            if (! $trusted && ! $this->allowsAnyInline($sources)) {
                $blocked[] = [$name, "'sha256-".base64_encode(hash('sha256', $text, true))."'"];
            }
            $loads = in_array("'strict-dynamic'", self::lower($sources), true) ? $trusted : self::matches($sources, $file);
            if (! $loads) {
                $blocked[] = [$name, $origin];
            }
        }
        $connect = $this->sources('connect-src', 'default-src');
        if ($connect !== null && ! self::matches($connect[1], "{$origin}/c")) {
            $blocked[] = [$connect[0], $origin];
        }

        return $blocked;
    }

    /** @return array{string, list<string>}|null the first of these directives that the policy has */
    private function sources(string ...$names): ?array
    {
        foreach ($names as $name) {
            if (isset($this->directives[$name])) {
                return [$name, $this->directives[$name]];
            }
        }

        return null;
    }

    /** @param list<string> $sources */
    private function trusts(array $sources, string $text, ?string $nonce): bool
    {
        foreach ($sources as $source) {
            if ($nonce !== null && $nonce !== '' && $source === "'nonce-{$nonce}'") {
                return true;
            }
            if (preg_match("/\\A'(sha256|sha384|sha512)-([A-Za-z0-9+\\/_-]+={0,2})'\\z/i", $source, $m) === 1
                && base64_encode(hash(strtolower($m[1]), $text, true)) === strtr($m[2], '-_', '+/')) {
                return true;
            }
        }

        return false;
    }

    /** @param list<string> $sources */
    private function allowsAnyInline(array $sources): bool
    {
        $sources = self::lower($sources);
        $stricter = array_filter($sources, static fn (string $s): bool => preg_match("/\\A'(nonce-|sha(256|384|512)-|strict-dynamic')/", $s) === 1);

        return in_array("'unsafe-inline'", $sources, true) && $stricter === [];
    }

    /** @param list<string> $sources */
    private static function matches(array $sources, string $url): bool
    {
        [$scheme, $host, $port, $path] = self::parts($url);
        foreach (self::lower($sources) as $source) {
            if ($source === '*' || $source === "{$scheme}:" || ($source === 'http:' && $scheme === 'https')) {
                return true;
            }
            if (preg_match('~\A(?:([a-z][a-z0-9+.-]*)://)?(\*|(?:\*\.)?[^/:\']+)(?::(\d+|\*))?(/.*)?\z~', $source, $m, PREG_UNMATCHED_AS_NULL) !== 1) {
                continue;
            }
            $rightScheme = $m[1] === null || $m[1] === $scheme || ($m[1] === 'http' && $scheme === 'https');
            $rightHost = $m[2] === '*' || $m[2] === $host || (str_starts_with($m[2], '*.') && str_ends_with($host, substr($m[2], 1)));
            $rightPort = $m[3] === '*' || ($m[3] === null ? in_array($port, [80, 443], true) : (int) $m[3] === $port);
            $rightPath = $m[4] === null || $m[4] === '/' || (str_ends_with($m[4], '/') ? str_starts_with($path, $m[4]) : $path === $m[4]);
            if ($rightScheme && $rightHost && $rightPort && $rightPath) {
                return true;
            }
        }

        return false;
    }

    /** @return array{string, string, int, string} scheme, host, port, path */
    private static function parts(string $url): array
    {
        preg_match('~\A(https?)://([^/:?#]*)(?::(\d+))?([^?#]*)~i', $url, $m);
        $scheme = strtolower($m[1] ?? 'https');

        return [$scheme, strtolower($m[2] ?? ''), (int) ($m[3] ?? '') ?: ($scheme === 'http' ? 80 : 443), $m[4] ?? '/'];
    }

    /**
     * Hosts, schemes and keywords regardless of case. Paths are lost to it too, which can only let more through where two
     * paths differ in case alone.
     *
     * @param list<string> $sources
     *
     * @return list<string>
     */
    private static function lower(array $sources): array
    {
        return array_map(strtolower(...), $sources);
    }
}
