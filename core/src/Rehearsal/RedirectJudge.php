<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Chain\Link;
use Pellix\Core\Experiments\Redirect;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Wiring\Findings\Severity;

/** Whether a redirect leads where it should: once, with everything that the visitor brought, and with a way back. */
final class RedirectJudge
{
    /** @return list<Finding> */
    public static function judge(RedirectSeen $seen, string $variant): array
    {
        $loop = self::loop($seen, $variant);
        if ($loop !== null) {
            return [$loop];
        }

        return array_values(array_filter([
            $elsewhere = self::elsewhere($seen, $variant),
            self::lost($seen, $variant),
            $silent = $elsewhere === null ? self::silent($seen, $variant) : null,
            self::exposure($seen, $variant),
            // Where nothing tells of the target, nothing tells of where its visitors came from.
            $silent === null ? self::referrer($seen, $variant) : null,
            self::wayBack($seen, $variant),
        ]));
    }

    /**
     * @param array<Finding> $findings
     *
     * @return list<Proof>
     */
    public static function proofs(RedirectSeen $seen, string $variant, array $findings): array
    {
        $codes = array_map(static fn (Finding $one): string => $one->code->value, $findings);
        $proofs = [
            CheckCode::RedirectNowhere->value => 'It lands on '.self::path($seen->landed).', once.',
            CheckCode::RedirectSilent->value => 'The snippet runs on the target.',
            CheckCode::RedirectParts->value => 'Query and fragment are kept.',
            CheckCode::ExposureMissing->value => 'The exposure arrived, once.',
            CheckCode::RedirectReferrer->value => 'Where the visitor came from is kept.',
            CheckCode::RedirectTrap->value => 'The way back leads to the page before.',
        ];
        $kept = in_array(CheckCode::RedirectLoop->value, $codes, true) ? [] : array_diff_key($proofs, array_flip($codes));

        return array_map(static fn (string $words): Proof => new Proof(Link::Exposure, $words, $variant), [...array_values($kept), ...($kept === [] ? [] : ['It costs '.round(1000 * $seen->cost).' ms more than the original (an estimate from one visit each).'])]);
    }

    private static function loop(RedirectSeen $seen, string $variant): ?Finding
    {
        $start = self::page($seen->start);
        $times = count(array_filter($seen->hops, static fn (string $one): bool => self::page($one) === $start));
        $isEndless = str_contains((string) $seen->trouble, 'TOO_MANY_REDIRECTS');
        if ($times < 2 && ! $isEndless) {
            return null;
        }
        $by = null;
        foreach ($seen->documents as $document) {
            if ($document['location'] !== null && $document['status'] >= 300 && $document['status'] < 400) {
                $by = $document;
            }
        }

        return new Finding(
            CheckCode::RedirectLoop,
            "“{$variant}” goes round in circles: ".($isEndless ? 'the browser gave up.' : "visitors come back to the original {$times} times."),
            $by === null ? "{$seen->target} leads back to ".self::path($seen->start).'.' : 'The server answers '.self::path($by['url'])." with {$by['status']} to {$by['location']}".($isEndless ? '.' : ', which is the original, from where the variant sends visitors away again.'),
            'Have the target answer by itself, or name the address that it leads to.',
            $variant,
            null,
            null,
            ['hops' => array_slice(array_map(self::path(...), $seen->hops), 0, 8)],
        );
    }

    private static function elsewhere(RedirectSeen $seen, string $variant): ?Finding
    {
        $wanted = self::wanted($seen);
        if ($seen->trouble !== null && $seen->trouble !== '') {
            return new Finding(CheckCode::RedirectNowhere, "“{$variant}” leads to a page that does not load.", $seen->trouble, 'See whether the target is there.', $variant);
        }
        if (self::page($seen->landed) === self::page($wanted)) {
            $last = $seen->documents === [] ? null : $seen->documents[count($seen->documents) - 1];

            return $last !== null && ($last['status'] ?? 200) >= 400 ? new Finding(CheckCode::RedirectNowhere, "“{$variant}” leads to a page that is not there.", "The server answers {$last['status']} at ".self::path($last['url']).'.', 'Correct the target.', $variant) : null;
        }
        if (self::page($seen->landed) === self::page($seen->start)) {
            return new Finding(CheckCode::RedirectNowhere, "“{$variant}” does not lead away: visitors stay on the original.", 'The runtime did not send the visitor on.', 'See what is found of entry and of the snippet.', $variant, null, null, ['landed' => $seen->landed]);
        }
        $by = self::server($seen);

        return new Finding(
            CheckCode::RedirectNowhere,
            "“{$variant}” lands on ".self::path($seen->landed).', not on '.self::path($wanted).'.',
            $by === null ? 'The page there sends visitors on by itself: by a script, or by a meta refresh.' : 'The server answers '.self::path($by['url'])." with {$by['status']} to {$by['location']}.",
            'Name the address that visitors end on as the target.',
            $variant,
            null,
            null,
            ['landed' => $seen->landed, 'wanted' => $wanted],
            $by === null ? null : Severity::Warning,
        );
    }

    private static function silent(RedirectSeen $seen, string $variant): ?Finding
    {
        return $seen->trouble !== '' ? null : new Finding(CheckCode::RedirectSilent, "The snippet does not run on the target of “{$variant}”: nothing that visitors do there is counted.", 'At '.self::path($seen->landed).' the runtime never began.', 'Put the snippet on the target, too.', $variant, null, null, ['landed' => $seen->landed]);
    }

    private static function lost(RedirectSeen $seen, string $variant): ?Finding
    {
        $brought = self::pairs($seen->start);
        $there = self::pairs($seen->landed);
        $missing = array_values(array_diff($brought, $there, self::overridden($seen)));
        $fragment = (string) parse_url($seen->start, PHP_URL_FRAGMENT);
        $isCut = $fragment !== '' && ! str_contains($seen->target, '#') && parse_url($seen->landed, PHP_URL_FRAGMENT) !== $fragment;
        if (($missing === [] && ! $isCut) || self::page($seen->landed) === self::page($seen->start)) {
            return null;
        }
        $lost = implode(' and ', array_filter([$missing === [] ? '' : 'the query '.implode('&', $missing), $isCut ? "the fragment #{$fragment}" : '']));
        $by = self::server($seen);

        return new Finding(
            CheckCode::RedirectParts,
            "“{$variant}” loses {$lost} on the way.",
            $by === null ? (self::page($seen->landed) === self::page(self::wanted($seen)) ? 'A script of the target changes the address.' : 'The target sends visitors on by itself, without what was brought along.') : 'The server answers '.self::path($by['url'])." with {$by['status']} to {$by['location']}, without what was brought along.",
            'Have the server keep the query when it sends visitors on, or name the address that it leads to as the target.',
            $variant,
            null,
            null,
            ['landed' => $seen->landed, 'wanted' => self::wanted($seen)],
        );
    }

    private static function exposure(RedirectSeen $seen, string $variant): ?Finding
    {
        if ($seen->exposures === 1) {
            return null;
        }

        return new Finding(CheckCode::ExposureMissing, $seen->exposures === 0 ? "No exposure of “{$variant}” has arrived: whatever visitors do counts for no variant." : "The exposure of “{$variant}” arrived {$seen->exposures} times.", '', 'See whether the snippet is on the target, too: the exposure is sent from there at the latest.', $variant, null, null, ['exposures' => $seen->exposures], $seen->exposures === 0 ? null : Severity::Warning);
    }

    private static function referrer(RedirectSeen $seen, string $variant): ?Finding
    {
        return $seen->referrer === $seen->before ? null : new Finding(CheckCode::RedirectReferrer, "Where visitors of “{$variant}” came from is lost.", $seen->referrer === null ? 'No page view came from the target: the snippet does not run there.' : "The page view of the target tells “{$seen->referrer}”, not “{$seen->before}”.", 'See whether the snippet is on the target, and whether cookies last until there.', $variant, null, null, ['told' => $seen->referrer]);
    }

    private static function wayBack(RedirectSeen $seen, string $variant): ?Finding
    {
        return self::page($seen->back) === self::page($seen->before) ? null : new Finding(CheckCode::RedirectTrap, "The way back from “{$variant}” is a trap: it leads to ".self::path($seen->back).'.', 'Another page stands between the target and where the visitor came from.', 'Have nothing else on the way push an entry of its own.', $variant, null, null, ['back' => $seen->back]);
    }

    private static function wanted(RedirectSeen $seen): string
    {
        $origin = (string) preg_replace('~\A(https?://[^/?#]+).*\z~is', '$1', $seen->start);

        return Redirect::merged(Redirect::absolute($seen->target, $origin), $seen->start);
    }

    /** @return array{url: string, status: int|null, location: string|null}|null the last time that the server sent the browser elsewhere */
    private static function server(RedirectSeen $seen): ?array
    {
        $found = null;
        foreach ($seen->documents as $document) {
            $found = $document['location'] !== null && $document['status'] >= 300 && $document['status'] < 400 ? $document : $found;
        }

        return $found;
    }

    /** @return list<string> of the visitor's parameters, those that the target itself sets */
    private static function overridden(RedirectSeen $seen): array
    {
        return array_values(array_diff(self::pairs($seen->start), self::pairs(self::wanted($seen))));
    }

    /** @return list<string> */
    private static function pairs(string $url): array
    {
        return array_values(array_filter(explode('&', (string) parse_url($url, PHP_URL_QUERY)), static fn (string $pair): bool => $pair !== ''));
    }

    /** An address without query and fragment, a slash at its end left out. */
    private static function page(string $url): string
    {
        return rtrim(AddressFacts::of($url)->host.(string) parse_url($url, PHP_URL_PATH), '/');
    }

    private static function path(string $url): string
    {
        return (string) preg_replace('~\Ahttps?://[^/?#]+~i', '', $url) ?: '/';
    }
}
