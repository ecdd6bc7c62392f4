<?php

declare(strict_types=1);

namespace Pellix\Core\Pages;

use Pellix\Core\Wiring\Html\Token;
use Pellix\Core\Wiring\Html\Tokenizer;

/**
 * What a page is built of, whatever it says today: which elements, by name, id and classes; which files and which code. Words,
 * numbers, how often something is repeated, and in which order, are left out: they differ from one visit to the next.
 */
final class Outline
{
    /** A larger page is not looked at further. */
    private const MOST_BYTES = 1_000_000;

    private const MOST_PARTS = 5_000;

    /** Of a name, a list of classes or an address. */
    private const LONGEST = 500;

    /** The text of these holds no tags. */
    private const RAW = ['script', 'style', 'textarea', 'title', 'xmp', 'iframe', 'noembed', 'noframes', 'noscript'];

    /**
     * @param string $html UTF-8
     *
     * @return string 16 hexadecimal digits, the same for pages that are built of the same
     */
    public static function of(string $html): string
    {
        $html = substr($html, 0, self::MOST_BYTES);
        $tokens = new Tokenizer($html);
        $parts = [];
        $inside = null;
        while (($token = $tokens->next()) !== null && count($parts) < self::MOST_PARTS) {
            if ($token->type === 'start') {
                $parts[self::part($token)] = true;
                $inside = in_array($token->name, self::RAW, true) ? $token->name : null;
                $inside === null || $tokens->rawText($inside);
            } elseif ($token->type === 'text' && in_array($inside, ['script', 'style'], true)) {
                $parts["{$inside}: ".hash('xxh3', self::code(substr($html, $token->offset, $token->end - $token->offset)))] = true;
                $inside = null;
            }
        }
        ksort($parts, SORT_STRING);

        return hash('xxh3', implode("\n", array_keys($parts)));
    }

    private static function part(Token $token): string
    {
        $classes = preg_split('/\s+/', self::stable($token->attributes['class'] ?? ''), -1, PREG_SPLIT_NO_EMPTY) ?: [];
        sort($classes);
        $part = $token->name.'#'.self::stable($token->attributes['id'] ?? '').'.'.implode('.', array_unique($classes));
        foreach (['src' => ['script'], 'href' => ['link'], 'action' => ['form']] as $attribute => $of) {
            if (in_array($token->name, $of, true)) {
                // A file is often asked for with its version.
                $part .= ' '.self::stable((string) preg_replace('/[?#].*\z/s', '', $token->attributes[$attribute] ?? ''));
            }
        }

        return $part;
    }

    /** Without numbers, and without what stands for one, such as the end of a name that a build has made. */
    private static function stable(string $name): string
    {
        return (string) preg_replace(['/\b(?=[a-z_-]*\d)[a-z\d_-]{8,}\b/i', '/\d+/'], '#', substr($name, 0, self::LONGEST));
    }

    /** Without what code holds as data: texts and numbers. */
    private static function code(string $code): string
    {
        return (string) preg_replace('/"[^"\n]*"|\'[^\'\n]*\'|\d+|\s+/', '', $code);
    }
}
