<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

/** Whether a script that was found still does what the one does that Pellix gave out. */
final class SameCode
{
    public const SAME = 'same';

    /** It does the same and looks different: other local names, or other code around it. */
    public const LIKE = 'like';

    public const OTHER = 'other';

    /** Signs before which a line break does not end a statement (ECMA-262, 12.10). */
    private const GOES_ON = ['(', '[', '+', '-', '*', '/', '.', ',', '=', '?', ':', '||', '&&', '??', '`'];

    /** @var array<string, string> local name that was given => the one that was found */
    private array $names = [];

    /**
     * @param list<array{string, string, bool}> $given  tokens
     * @param list<array{string, string, bool}> $found
     * @param list<string>                      $local  names that may be others
     * @param \Closure(string, string): bool    $isSame whether one string may stand for another
     */
    private function __construct(private readonly array $given, private readonly array $found, private readonly array $local, private readonly \Closure $isSame)
    {
    }

    /**
     * @param list<string>                   $local  names within the given text that may be others
     * @param \Closure(string, string): bool $isSame whether one string, or number, may stand for another
     *
     * @return self::SAME|self::LIKE|self::OTHER
     */
    public static function compare(string $given, string $found, array $local, \Closure $isSame): string
    {
        $wanted = CodeTokens::of($given) ?? [];
        $tokens = CodeTokens::of($found);
        if ($tokens === null || in_array('bad', array_column($tokens, 0), true)) {
            return self::OTHER;
        }
        $first = $wanted[0][1] ?? '';
        foreach ($tokens as $at => $token) {
            $before = $tokens[$at - 1][1] ?? ';';
            if ($token[1] !== $first || ! in_array($before, [';', '}', '{'], true)) {
                continue;
            }
            $same = new self($wanted, $tokens, $local, $isSame);
            $end = $same->end($at);
            if ($end !== null) {
                return $at === 0 && $end === count($tokens) && array_diff_assoc($same->names, array_combine(array_keys($same->names), array_keys($same->names))) === [] ? self::SAME : self::LIKE;
            }
        }

        return self::OTHER;
    }

    /** Whether the found text is the beginning of the given one. */
    public static function isCutOff(string $given, string $found): bool
    {
        $squeeze = static fn (string $text): string => (string) preg_replace('/\s+/u', '', $text);

        return str_starts_with($squeeze($given), $squeeze($found));
    }

    /** The place after what is the same, from a place on; null where something differs. */
    private function end(int $at): ?int
    {
        foreach ($this->given as $i => $token) {
            $found = $this->found[$at] ?? ['', '', true];
            if ($this->isSame($token, $found)) {
                $at++;
                continue;
            }
            // A semicolon may be left out where the line ends, or the block.
            $isLeftOut = $token[1] === ';' && $token[0] === 'sign' && ($found[1] === '}' || ($found[2] && ! in_array($found[1], self::GOES_ON, true)));
            if ($isLeftOut) {
                continue;
            }
            // Or one may be added before the end of a block.
            if ($found[1] === ';' && $token[1] === '}' && $this->isSame($token, $this->found[$at + 1] ?? ['', '', true])) {
                $at += 2;
                continue;
            }

            return null;
        }

        return $at;
    }

    /**
     * @param array{string, string, bool} $given
     * @param array{string, string, bool} $found
     */
    private function isSame(array $given, array $found): bool
    {
        if ($given[0] !== $found[0]) {
            return false;
        }
        if ($given[0] === 'word' && in_array($given[1], $this->local, true)) {
            $this->names[$given[1]] ??= $found[1];

            return $this->names[$given[1]] === $found[1];
        }

        return $given[1] === $found[1] || (in_array($given[0], ['string', 'number'], true) && ($this->isSame)($given[1], $found[1]));
    }
}
