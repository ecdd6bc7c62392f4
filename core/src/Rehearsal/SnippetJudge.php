<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Chain\Link;
use Pellix\Core\Wiring\Findings\Severity;

/**
 * Whether the snippet loads, once, with the right key, and runs; what kept it from that; and which errors are its own.
 *
 * @phpstan-import-type Line from SnippetSeen
 * @phpstan-import-type Refusal from SnippetSeen
 */
final class SnippetJudge
{
    private const MOST_LINES = 5;

    /** @return list<Finding|Proof> */
    public static function judge(SnippetSeen $seen): array
    {
        $found = [...self::refused($seen), ...self::foreign($seen)];
        if ($seen->own() === []) {
            return [...$found, ...self::missing($seen, $found)];
        }
        if (! $seen->runs && ! $seen->isAtItsPage()) {
            return [...$found, new Finding(CheckCode::PageLeadsAway, 'The page sends its visitors on before anything else: to '.mb_substr($seen->landed, 0, 200).'.', 'By a script of its own, or by the server.', 'Name the page that visitors end on in the page rule.', evidence: ['page' => $seen->page, 'landed' => $seen->landed])];
        }
        $found = [...$found, ...self::loaded($seen)];
        if (! $seen->runs) {
            return array_filter($found, static fn (Finding $one): bool => $one->code->link() === Link::Snippet) !== [] ? $found
                : [...$found, new Finding(CheckCode::SnippetMissing, 'Our file was loaded, and its runtime did not begin.', 'Something on the page stops it.', 'See what the console says.', evidence: ['console' => array_slice(array_column($seen->console, 'text'), 0, 3)])];
        }
        if ($seen->published !== null && $seen->number !== null && $seen->number < $seen->published) {
            $found[] = new Finding(CheckCode::SnippetOld, "The page got number {$seen->number} of the published file; the newest is {$seen->published}.", 'Something on the way keeps an older copy.', 'Have the copy dropped there, or wait until it has run out.');
        }

        return $found === [] ? [new Proof(Link::Snippet, 'The snippet loads, once, with the key of this site, and runs.')] : $found;
    }

    /**
     * Errors that our code caused are told apart from the page's own, by the file that they came from.
     *
     * @return list<Finding|Proof>
     */
    public static function console(SnippetSeen $seen): array
    {
        $ours = $theirs = [];
        foreach ($seen->console as $line) {
            $says = str_starts_with($line['text'], 'pellix:');
            // What a policy or the network refused is told by itself.
            if (($line['level'] !== 'error' && ! $says) || in_array($line['kind'], ['security', 'network'], true)) {
                continue;
            }
            if ($says || str_contains($line['url'], "/s/{$seen->key}.js")) {
                $ours[] = $line;
            } else {
                $theirs[] = $line;
            }
        }

        return [
            $ours === []
                ? new Proof(Link::Snippet, 'Our code causes no error in the console.')
                : new Finding(CheckCode::SnippetErrors, 'Our code caused '.self::errors($ours).' in the console.', $ours[0]['text'], 'See what it says; the page’s own errors are told apart from these.', evidence: ['lines' => self::lines($ours)]),
            ...$theirs === [] ? [] : [new Finding(CheckCode::PageErrors, 'The page itself has '.self::errors($theirs).' in the console.', $theirs[0]['text'], 'Not ours; tell the developers.', evidence: ['lines' => self::lines($theirs)])],
        ];
    }

    /** @return list<Finding> */
    private static function refused(SnippetSeen $seen): array
    {
        $found = [];
        foreach ($seen->refused as $one) {
            if (self::isOurs($one, $seen) && ! $one['isReport']) {
                $isSending = preg_match('/\A(?:connect|img)/', $one['by']) === 1;
                $found[] = new Finding(CheckCode::SnippetBlocked, $isSending ? 'The page’s policy keeps our events from leaving the page.' : 'The page’s policy keeps our code from running.', "Content-Security-Policy: {$one['by']} refuses {$one['what']}.", self::allowing($one['by'], $seen->pellix), evidence: ['directive' => $one['by'], 'what' => $one['what'], 'line' => $one['line']]);
            }
        }

        return $found;
    }

    /** @param Refusal $refused */
    private static function isOurs(array $refused, SnippetSeen $seen): bool
    {
        if (str_contains($refused['what'], $seen->key) || str_starts_with($refused['what'], $seen->pellix)) {
            return true;
        }

        // Of inline code, and of what code makes of texts, a policy does not tell whose it is: it is ours where ours stands there and does not run.
        return $seen->own() === [] && $seen->loaders > 0 && (($refused['what'] === 'inline' && str_starts_with($refused['by'], 'script-src')) || str_contains($refused['by'], 'trusted-types'));
    }

    private static function allowing(string $directive, string $pellix): string
    {
        return match (true) {
            str_contains($directive, 'trusted-types') => 'Take require-trusted-types-for out of the policy of this page, or have a policy named “default” that lets our file through.',
            str_starts_with($directive, 'style') => 'Allow it in the policy: a nonce for the flicker guard and for style sheets that variants add, in style-src.',
            default => "Allow it in the policy: a nonce for the inline code, and {$pellix} for ".(preg_match('/\A(?:connect|img)/', $directive) === 1 ? 'connect-src and img-src' : 'script-src').'.',
        };
    }

    /** @return list<Finding> */
    private static function foreign(SnippetSeen $seen): array
    {
        $foreign = $seen->foreign();

        return $foreign === [] ? [] : [new Finding(CheckCode::SnippetWrongKey, 'The page loads the file of another site.', $foreign[0]['url'], "Put in the snippet of this site, with the key {$seen->key}.")];
    }

    /**
     * @param list<Finding> $known
     *
     * @return list<Finding>
     */
    private static function missing(SnippetSeen $seen, array $known): array
    {
        if ($seen->download !== null && str_starts_with($seen->landed, 'about:')) {
            return [new Finding(CheckCode::PageUnreachable, 'There is no page at the address: a file comes instead.', $seen->download, 'Correct the page rule, or have the server send a page.')];
        }

        // Where the policy keeps it from running, or the key is another, that is told already.
        return array_filter($known, static fn (Finding $one): bool => $one->severity === Severity::Blocker) !== [] ? []
            : [new Finding(CheckCode::SnippetMissing, 'No snippet ran on the page: our file was not asked for.', 'The page does not have the snippet, or something stops it before it runs.', 'Inspect the page under Wiring, and put the snippet into its head.', evidence: ['page' => $seen->page])];
    }

    /** @return list<Finding> */
    private static function loaded(SnippetSeen $seen): array
    {
        $found = [];
        $own = $seen->own();
        foreach ($own as $file) {
            if ($file['failed'] !== null || ($file['status'] ?? 200) >= 400) {
                $found[] = new Finding(CheckCode::SnippetUnreachable, 'Our file was not loaded.', $file['blocked'] ?? $file['failed'] ?? "The server answered {$file['status']}.", 'See whether something between the visitor and Pellix refuses it.', evidence: ['file' => $file['url']]);
            }
        }
        if (count($own) > 1 || $seen->loaders > 1) {
            $found[] = new Finding(CheckCode::SnippetTwice, 'The snippet stands on the page '.max(count($own), $seen->loaders).' times.', 'It counts once, and its file is asked for more often than needed.', 'Take all but the first one out.');
        }

        return $found;
    }

    /** @param list<Line> $lines */
    private static function errors(array $lines): string
    {
        return count($lines).(count($lines) === 1 ? ' error' : ' errors');
    }

    /**
     * @param list<Line> $lines
     *
     * @return list<string>
     */
    private static function lines(array $lines): array
    {
        return array_slice(array_map(static fn (array $one): string => "{$one['text']} ({$one['url']}:{$one['line']})", $lines), 0, self::MOST_LINES);
    }
}
