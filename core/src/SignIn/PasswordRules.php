<?php

declare(strict_types=1);

namespace Pellix\Core\SignIn;

/**
 * What a password must be: NIST SP 800-63B-4, section 3.1.1.2. At least 15 characters where it is the only thing that is asked for, at
 * least 64 are taken, every character counts, nothing is asked about kinds of characters, and none that is common, breached, all of one
 * pattern, or made of what everybody knows about the account.
 */
final readonly class PasswordRules
{
    /** Characters (code points). */
    public const SHORTEST = 15;

    /** Characters; the standard wants at least 64. Longer ones cost time to check. */
    public const LONGEST = 256;

    /** So many characters must be left beside words that everybody knows: common practice, no source. */
    private const OF_ITS_OWN = 8;

    /** A word of the account that is shorter says nothing. */
    private const SHORTEST_WORD = 4;

    public function __construct(private CommonPasswords $common)
    {
    }

    /**
     * As it is checked and kept: the same password typed on another keyboard may come as other code points (NIST SP 800-63B-4 asks for
     * NFKC or NFKD of Unicode).
     *
     * @return string|null null for what is not UTF-8
     */
    public static function normal(string $password): ?string
    {
        $normal = \Normalizer::normalize($password, \Normalizer::NFKC);

        return is_string($normal) ? $normal : null;
    }

    /**
     * @param list<string> $words what everybody knows about the account: name, address, service, sites
     *
     * @return string|null what is wrong with it and what to do; null for a good one
     */
    public function wrong(string $password, array $words): ?string
    {
        $normal = self::normal($password);
        if ($normal === null) {
            return 'This is not text. Type the password.';
        }
        $length = mb_strlen($normal, 'UTF-8');

        return match (true) {
            $length < self::SHORTEST => 'A password has at least '.self::SHORTEST." characters, this one {$length}. A few words in a row are easy to remember.",
            $length > self::LONGEST => 'A password has at most '.self::LONGEST." characters, this one {$length}.",
            $this->isCommon($normal) => 'This password is on a list of those that are guessed first, or made of two of them. Choose another one.',
            self::isPattern($normal) => 'This password is one pattern again and again, which is guessed early. Choose another one.',
            self::isKnown($normal, $words) => 'Most of this password is your name, your address, a site or this service, which is guessed early. Choose another one.',
            default => null,
        };
    }

    private function isCommon(string $password): bool
    {
        $lower = mb_strtolower($password, 'UTF-8');
        foreach (array_unique([$lower, (string) preg_replace('/[^\p{L}\p{N}]+/u', '', $lower)]) as $form) {
            // Also with digits or signs before and after, and two in a row.
            foreach (array_unique([$form, (string) preg_replace('/\A[^\p{L}]+|[^\p{L}]+\z/u', '', $form)]) as $text) {
                if ($this->common->has($text)) {
                    return true;
                }
                for ($i = 3, $n = strlen($text); $i <= $n - 3; $i++) {
                    if ($this->common->has(substr($text, 0, $i)) && $this->common->has(substr($text, $i))) {
                        return true;
                    }
                }
            }
        }

        return false;
    }

    /** Whether it repeats up to five characters, or counts up or down all the way. */
    private static function isPattern(string $password): bool
    {
        $characters = mb_str_split(mb_strtolower($password, 'UTF-8'), 1, 'UTF-8');
        foreach (range(1, 5) as $period) {
            $same = true;
            foreach ($characters as $i => $character) {
                $same = $same && $character === $characters[$i % $period];
            }
            if ($same) {
                return true;
            }
        }
        $steps = [];
        foreach (array_slice($characters, 1) as $i => $character) {
            $step = mb_ord($character, 'UTF-8') - mb_ord($characters[$i], 'UTF-8');
            // From nine it goes on with nought.
            $steps[$step === -9 ? 1 : ($step === 9 ? -1 : $step)] = true;
        }

        return count($steps) === 1 && in_array(array_key_first($steps), [1, -1], true);
    }

    /** @param list<string> $words */
    private static function isKnown(string $password, array $words): bool
    {
        $parts = [];
        foreach ($words as $word) {
            array_push($parts, $word, ...(preg_split('/[^\p{L}\p{N}]+/u', $word) ?: []));
        }
        $parts = array_unique(array_map(static fn (string $part): string => mb_strtolower($part, 'UTF-8'), $parts));
        $parts = array_filter($parts, static fn (string $part): bool => mb_strlen($part, 'UTF-8') >= self::SHORTEST_WORD);
        // Longer ones first: they hold the others.
        usort($parts, static fn (string $a, string $b): int => strlen($b) <=> strlen($a));
        $lower = mb_strtolower($password, 'UTF-8');
        $rest = str_replace($parts, '', $lower);

        return $rest !== $lower && mb_strlen((string) preg_replace('/[^\p{L}\p{N}]+/u', '', $rest), 'UTF-8') < self::OF_ITS_OWN;
    }
}
