<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inventory;

/** What a site's robots.txt allows a crawler. Source: RFC 9309, Robots Exclusion Protocol. */
final readonly class Robots
{
    /** A crawler reads at least so much of the file (RFC 9309, 2.5). */
    private const MOST_BYTES = 512_000;

    /**
     * @param list<array{bool, string}> $rules    allowed or not, pattern
     * @param list<string>              $sitemaps
     */
    private function __construct(private array $rules, public array $sitemaps)
    {
    }

    /** Where there is no robots.txt (an answer from 400 to 499), everything is allowed (2.3.1.3). */
    public static function none(): self
    {
        return new self([], []);
    }

    /** Where robots.txt cannot be had (an answer from 500 on, or none), nothing is allowed (2.3.1.4). */
    public static function unreachable(): self
    {
        return new self([[false, '/']], []);
    }

    /** @param string $agent the crawler's product token, without a version: letters, "-" and "_" */
    public static function parse(string $text, string $agent): self
    {
        $groups = $sitemaps = [];
        $agents = [];
        $inRules = false;
        foreach (preg_split('/\r\n|\r|\n/', (string) preg_replace('/\A\xef\xbb\xbf/', '', substr($text, 0, self::MOST_BYTES))) ?: [] as $line) {
            if (preg_match('/\A[ \t]*([A-Za-z-]+)[ \t]*:[ \t]*([^#]*)/', $line, $m) !== 1) {
                continue;
            }
            [$name, $value] = [strtolower($m[1]), rtrim($m[2])];
            if ($name === 'user-agent') {
                // Agents that follow one another share the rules that come next (2.2.1).
                $agents = $inRules ? [] : $agents;
                $agents[] = strtolower($value);
                $groups[strtolower($value)] ??= [];
                $inRules = false;
            } elseif ($name === 'sitemap') {
                $sitemaps[] = $value;
            } elseif ($name === 'allow' || $name === 'disallow') {
                $inRules = true;
                foreach ($value === '' ? [] : $agents as $one) {
                    $groups[$one][] = [$name === 'allow', self::normal($value)];
                }
            }
        }

        return new self($groups[strtolower($agent)] ?? $groups['*'] ?? [], $sitemaps);
    }

    /** Whether a path, with its query, may be fetched: the longest rule that matches decides, and of two as long, allow (2.2.2). */
    public function allows(string $path): bool
    {
        // The file itself may always be fetched (2.2.2).
        if ($path === '/robots.txt') {
            return true;
        }
        $path = self::normal($path);
        $longest = -1;
        $allowed = true;
        foreach ($this->rules as [$allow, $pattern]) {
            $length = strlen($pattern);
            if (($length > $longest || ($length === $longest && $allow)) && self::matches($pattern, $path)) {
                [$longest, $allowed] = [$length, $allow];
            }
        }

        return $allowed;
    }

    /** `*` stands for any characters and a last `$` for the end (2.2.3). Parts are looked for from left to right: no backtracking. */
    private static function matches(string $pattern, string $path): bool
    {
        $toTheEnd = str_ends_with($pattern, '$');
        $parts = explode('*', $toTheEnd ? substr($pattern, 0, -1) : $pattern);
        $first = array_shift($parts);
        if (! str_starts_with($path, $first)) {
            return false;
        }
        $at = strlen($first);
        $last = $toTheEnd ? array_pop($parts) : null;
        foreach ($parts as $part) {
            $found = strpos($path, $part, $at);
            if ($found === false) {
                return false;
            }
            $at = $found + strlen($part);
        }

        return match (true) {
            ! $toTheEnd => true,
            $last === null => $at === strlen($path),
            default => strlen($path) - $at >= strlen($last) && str_ends_with($path, $last),
        };
    }

    /** Escapes in one spelling: unreserved characters plain, all others that are not ASCII escaped (2.2.2). */
    private static function normal(string $path): string
    {
        $plain = preg_replace_callback('/%([0-9A-Fa-f]{2})/', static function (array $m): string {
            $character = chr((int) hexdec($m[1]));

            return preg_match('/[A-Za-z0-9._~-]/', $character) === 1 ? $character : '%'.strtoupper($m[1]);
        }, $path);

        return (string) preg_replace_callback('/[\x00-\x20\x7f-\xff]/', static fn (array $m): string => rawurlencode($m[0]), (string) $plain);
    }
}
