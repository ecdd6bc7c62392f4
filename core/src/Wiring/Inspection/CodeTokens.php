<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

/**
 * The tokens of a short script, so that two can be told to do the same whatever their white space and comments.
 * Source: ECMA-262, 12 (Lexical Grammar) and B.1.1 (HTML-like Comments).
 */
final class CodeTokens
{
    /** Longer texts are no snippets, and are not read. */
    public const LONGEST = 50_000;

    private const TOKEN = <<<'RE'
        #(?<space>[\s\x{FEFF}\p{Zs}]++|//[^\n\x{2028}\x{2029}]*+|/\*(?s:.*?)\*/|<!--[^\n]*+|^\h*-->[^\n]*+)
        |(?<word>[\p{L}\p{Nl}$_][\p{L}\p{Nl}\p{Mn}\p{Mc}\p{Nd}\p{Pc}$_]*+)
        |(?<number>\d[\w.]*+)
        |(?<string>"(?:[^"\\\n]|\\(?s:.))*+"|'(?:[^'\\\n]|\\(?s:.))*+'|`(?:[^`\\]|\\(?s:.))*+`)
        |(?<sign>=>|[=!]==?|\|\||&&|\?\?|[{}()\[\].,;:?<>=!+\-*/%&|^~])
        |(?<bad>(?s:.))#xum
        RE;

    /**
     * @return list<array{string, string, bool}>|null kind (`word`, `number`, `string` with its value, `sign`, `bad`), text, whether
     *                                                a line break stands before it; null where the text is too long or no UTF-8
     */
    public static function of(string $code): ?array
    {
        if (strlen($code) > self::LONGEST || preg_match_all(self::TOKEN, $code, $all, PREG_SET_ORDER | PREG_UNMATCHED_AS_NULL) === false) {
            return null;
        }
        $tokens = [];
        $isNewLine = false;
        /** @var array<string, string|null> $match */
        foreach ($all as $match) {
            if ($match['space'] !== null) {
                $isNewLine = $isNewLine || preg_match('/[\n\x{2028}\x{2029}]/u', $match['space']) === 1;
                continue;
            }
            foreach (['word', 'number', 'string', 'sign', 'bad'] as $kind) {
                $text = $match[$kind];
                if ($text !== null) {
                    $tokens[] = [$kind, $kind === 'string' ? self::value($text) : $text, $isNewLine];
                }
            }
            $isNewLine = false;
        }

        return $tokens;
    }

    /**
     * Whether every bracket that opens is closed, and nothing stands there that is no code.
     *
     * @param list<array{string, string, bool}> $tokens
     */
    public static function areWhole(array $tokens): bool
    {
        $open = [];
        foreach ($tokens as [$kind, $text]) {
            if ($kind === 'bad') {
                return false;
            }
            if ($kind === 'sign' && in_array($text, ['(', '[', '{'], true)) {
                $open[] = ['(' => ')', '[' => ']', '{' => '}'][$text];
            } elseif ($kind === 'sign' && in_array($text, [')', ']', '}'], true) && array_pop($open) !== $text) {
                return false;
            }
        }

        return $open === [];
    }

    /** What a string literal stands for, as far as snippets have escapes. */
    private static function value(string $literal): string
    {
        return (string) preg_replace_callback('/\\\\(?:u([0-9a-fA-F]{4})|x([0-9a-fA-F]{2})|(.))/su', static function (array $m): string {
            $code = $m[1] ?? $m[2];

            return $code !== null ? (string) mb_chr((int) hexdec($code), 'UTF-8') : (['n' => "\n", 't' => "\t", 'r' => "\r", "\n" => ''][(string) $m[3]] ?? (string) $m[3]);
        }, substr($literal, 1, -1), -1, $count, PREG_UNMATCHED_AS_NULL);
    }
}
