<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Wiring\Html\Node;
use Pellix\Core\Wiring\Snippet;

/** One place on a page where a snippet stands, in whatever state it is. */
final readonly class SnippetCopy
{
    private function __construct(public Node $node, public ?string $key, public string $file, public ?string $alteration)
    {
    }

    /** The copy that a script element is; null for any other script. */
    public static function of(Node $node): ?self
    {
        if ($node->name !== 'script') {
            return null;
        }
        $src = $node->attribute('src');
        if ($src !== null) {
            return preg_match(Snippet::FILE, $src, $m) === 1 ? new self($node, $m[1], $src, null) : null;
        }
        $marked = $node->attribute('data-pellix');
        // A script that writes a snippet, or mentions one, is another script.
        if ($marked === null && (preg_match(Snippet::FILE, $node->text) !== 1 || stripos($node->text, '<script') !== false)) {
            return null;
        }
        preg_match('~(https?://[^"\'\s<>]+)'.substr(Snippet::FILE, 1), $node->text, $m);
        $origin = $m[1] ?? 'https://pellix.invalid';
        $key = $marked ?? $m[2] ?? null;

        return new self($node, $key, ($m[1] ?? '').'/s/'.($m[2] ?? $key).'.js', self::alteration($node, $key ?? '', $origin, $m[2] ?? null));
    }

    /** Whether a text holds a snippet's beginning: in a comment, in raw text, or spelled out as text. */
    public static function isMentionedIn(string $text): bool
    {
        return str_contains($text, 'data-pellix="') || str_contains($text, 'data-pellix=&quot;') || preg_match(Snippet::FILE, $text) === 1;
    }

    /** What was done to the text on its way; null where it is as Pellix gave it out, white space aside. */
    private static function alteration(Node $node, string $key, string $origin, ?string $loaded): ?string
    {
        $given = self::squeeze((string) preg_replace('~\A<script[^>]*>|</script>\z~', '', Snippet::loader($key, $origin)));
        $found = self::squeeze($node->text);
        if ($given === $found) {
            return $node->attribute('data-pellix') === null ? 'Its attribute data-pellix is missing.' : null;
        }

        return match (true) {
            preg_match('/[\x{2018}\x{2019}\x{201C}\x{201D}\x{00AB}\x{00BB}]/u', $node->text) === 1 => 'It has typographic quotes, which no browser reads as quotes.',
            preg_match('/&(lt|gt|quot|amp|#\d+);/', $node->text) === 1 => 'Its characters are escaped (&lt; and the like) and no longer code.',
            $found === '' => 'It is empty.',
            str_starts_with($given, $found) => 'It is cut off.',
            $loaded !== null && $loaded !== $key => "It is marked with the key {$key} but loads {$loaded}.",
            default => 'It reads “'.mb_strcut(self::difference($given, $found), 0, 60).'” where Pellix wrote something else.',
        };
    }

    private static function difference(string $given, string $found): string
    {
        $same = strspn($given ^ $found, "\0");

        return substr($found, max(0, $same - 20));
    }

    private static function squeeze(string $text): string
    {
        return trim((string) preg_replace('/\s+/', ' ', $text));
    }
}
