<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/** Reads bytes as a browser does: by their byte order mark, by what was declared, or else as UTF-8 or windows-1252. */
final class Encoding
{
    private const PRESCANNED = 1024;

    /**
     * UTF-8, with every line break a "\n" (WHATWG HTML, 13.2.3).
     *
     * @param string|null $declared the charset of the Content-Type header
     */
    public static function decode(string $bytes, ?string $declared = null): string
    {
        [$encoding, $skip] = match (true) {
            str_starts_with($bytes, "\xef\xbb\xbf") => ['UTF-8', 3],
            str_starts_with($bytes, "\xfe\xff") => ['UTF-16BE', 2],
            str_starts_with($bytes, "\xff\xfe") => ['UTF-16LE', 2],
            default => [self::known($declared) ?? self::known(self::fromMeta($bytes)) ?? 'UTF-8', 0],
        };
        $text = substr($bytes, $skip);
        if ($encoding === 'UTF-8' && ! mb_check_encoding($text, 'UTF-8')) {
            $encoding = $skip === 0 && $declared === null ? 'Windows-1252' : 'UTF-8';
        }
        $text = $encoding === 'UTF-8' ? mb_scrub($text, 'UTF-8') : (string) mb_convert_encoding($text, 'UTF-8', $encoding);

        return str_replace(["\r\n", "\r"], "\n", $text);
    }

    private static function fromMeta(string $bytes): ?string
    {
        foreach (PageReader::nodes(substr($bytes, 0, self::PRESCANNED)) as $node) {
            if ($node->name !== 'meta') {
                continue;
            }
            $content = $node->attribute('content') ?? '';
            $charset = $node->attribute('charset') ?? (stripos($content, 'charset=') === false ? null : substr($content, (int) stripos($content, 'charset=') + 8));
            if ($charset !== null) {
                // A text that could be read so far is not UTF-16, whatever it says (13.2.3.2).
                return stripos($charset, 'utf-16') === false ? $charset : 'UTF-8';
            }
        }

        return null;
    }

    private static function known(?string $name): ?string
    {
        $name = trim((string) $name, " \t\"';");
        foreach (mb_list_encodings() as $encoding) {
            foreach ([$encoding, ...mb_encoding_aliases($encoding)] as $alias) {
                if ($name !== '' && strcasecmp($alias, $name) === 0) {
                    // Browsers read Latin-1 as windows-1252 (WHATWG Encoding, 4.2).
                    return in_array($encoding, ['ISO-8859-1', 'ASCII'], true) ? 'Windows-1252' : $encoding;
                }
            }
        }

        return null;
    }
}
