<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/**
 * Whether something that was typed stands in a text that left the page: as it was typed, encoded (percent, JSON, Base64, hexadecimal,
 * also one within the other), in part, or as a hash.
 */
final class Leak
{
    /** So many encodings within one another are undone, where nothing else is said. */
    public const DEPTH = 4;

    private const MOST_TEXTS = 120;
    private const MOST_TOKENS = 60;
    private const LONGEST = 70_000;

    /** A shorter text proves nothing. */
    private const SHORTEST = 6;

    private const HASHES = ['md5', 'sha1', 'sha256', 'sha512'];

    /**
     * @param list<string> $typed what was typed
     * @param string       $mark  letters that stand in all that was made up, and nowhere else; empty for none
     * @param int          $depth so many encodings within one another are undone
     *
     * @return array{string, string}|null what was typed, and in which form it was found
     */
    public static function in(string $text, array $typed, string $mark = '', int $depth = self::DEPTH): ?array
    {
        $wanted = self::wanted($typed, $mark);
        if ($wanted === []) {
            return null;
        }
        $texts = self::texts($text, $depth);
        // The whole, or its hash, before a part of it.
        foreach ([false, true] as $inPart) {
            $of = array_values(array_filter($wanted, static fn (array $one): bool => ($one[2] === 'a part of it') === $inPart));
            foreach ($texts as [$one, $form]) {
                $found = self::stands($of, $one, $form);
                if ($found !== null) {
                    return $found;
                }
            }
        }

        return null;
    }

    /** @return non-empty-list<array{string, string}> a text with its encodings undone, one within the other, and the form of each */
    private static function texts(string $text, int $most): array
    {
        $texts = [[mb_strcut($text, 0, self::LONGEST, '8bit'), 'as it was typed']];
        $known = [$texts[0][0] => true];
        for ($depth = $begin = 0; $depth < $most; $depth++, $begin = $end) {
            $end = count($texts);
            for ($i = $begin; $i < $end; $i++) {
                foreach (self::undone($texts[$i][0]) as [$next, $form]) {
                    if (count($texts) < self::MOST_TEXTS && ! isset($known[$next])) {
                        $known[$next] = true;
                        $texts[] = [$next, $form ?? $texts[$i][1]];
                    }
                }
            }
        }

        return $texts;
    }

    /**
     * @param list<string> $typed
     *
     * @return list<array{string, string, string|null}> what stands for it, lower case; what was typed; the form, where that is told by what stands for it
     */
    private static function wanted(array $typed, string $mark): array
    {
        $all = $hashed = [];
        foreach ($typed as $value) {
            $plain = mb_strtolower(trim($value));
            if (mb_strlen($plain) < self::SHORTEST) {
                continue;
            }
            $all[] = [$plain, $value, null];
            $digits = (string) preg_replace('/\D/', '', $plain);
            $isNumber = preg_match('/\A[+\d\s().\/-]+\z/', $plain) === 1 && strlen($digits) > self::SHORTEST;
            $isNumber && $all[] = [$digits, $value, 'its digits'];
            if ($mark !== '' && str_contains($plain, $mark)) {
                foreach (preg_split('/[\s@]+/', $plain) ?: [] as $part) {
                    $part !== $plain && str_contains($part, $mark) && $all[] = [$part, $value, 'a part of it'];
                }
            }
            foreach (array_unique([$value, trim($value), $plain, ...($isNumber ? [$digits, "+{$digits}"] : [])]) as $spelling) {
                foreach (self::HASHES as $hash) {
                    $hashed[] = [hash($hash, $spelling), $value, 'as a hash ('.strtoupper($hash).')'];
                }
            }
        }

        return [...$all, ...$hashed];
    }

    /**
     * @param list<array{string, string, string|null}> $wanted
     *
     * @return array{string, string}|null
     */
    private static function stands(array $wanted, string $text, string $form): ?array
    {
        $lower = mb_check_encoding($text, 'UTF-8') ? mb_strtolower($text) : strtolower($text);
        // A hash in Base64 is what its bytes say in hexadecimal.
        $bytes = strlen($text) <= 256 && $form === 'in Base64' ? bin2hex($text) : '';
        foreach ($wanted as [$needle, $value, $told]) {
            if (str_contains($lower, $needle) || ($bytes !== '' && str_contains($bytes, $needle))) {
                return [$value, $told === null ? $form : ($form === 'as it was typed' || str_starts_with($told, 'as a hash') ? $told : "{$told}, {$form}")];
            }
        }

        return null;
    }

    /** @return iterable<array{string, string|null}> the text with one encoding undone, and how that is called; null where that needs no name */
    private static function undone(string $text): iterable
    {
        if (strpbrk($text, '%+') !== false) {
            yield [rawurldecode(str_replace('+', ' ', $text)), null];
            yield [rawurldecode($text), null];
        }
        if (str_contains($text, '\\')) {
            yield [(string) preg_replace_callback('/\\\\(?:u([0-9a-f]{4})|x([0-9a-f]{2})|(.))/i', static fn (array $m): string => isset($m[3]) ? $m[3] : (mb_chr((int) hexdec($m[1] !== '' ? $m[1] : $m[2]), 'UTF-8') ?: ''), $text), null];
        }
        if (str_contains($text, '&')) {
            yield [html_entity_decode($text, ENT_QUOTES | ENT_HTML5, 'UTF-8'), null];
        }
        preg_match_all('/(?<![0-9a-f])(?:[0-9a-f]{2}){6,}(?![0-9a-f])/i', $text, $hex);
        foreach (array_slice($hex[0], 0, self::MOST_TOKENS) as $token) {
            yield [(string) hex2bin($token), 'in hexadecimal'];
        }
        preg_match_all('~[A-Za-z0-9+/_-]{8,}~', $text, $tokens);
        foreach (array_slice($tokens[0], 0, self::MOST_TOKENS) as $token) {
            // Something may stand before it that looks the same: Base64 goes by four.
            for ($skipped = 0; $skipped < 4; $skipped++) {
                yield [(string) base64_decode(strtr(substr($token, $skipped), '-_', '+/')), 'in Base64'];
            }
        }
    }
}
