<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/** Reads bytes as a browser does: by their byte order mark, by what was declared, or else as UTF-8 or windows-1252. */
final class Encoding
{
    private const PRESCANNED = 1024;

    /** Labels of WHATWG Encoding, 4.2, for the encodings that mbstring reads. Latin-1 is windows-1252 there too. */
    private const LABELS = [
        'UTF-8' => ['utf-8', 'utf8', 'unicode-1-1-utf-8'],
        'UTF-16LE' => ['utf-16', 'utf-16le', 'unicode'],
        'UTF-16BE' => ['utf-16be'],
        'Windows-1252' => ['windows-1252', 'cp1252', 'iso-8859-1', 'iso8859-1', 'iso_8859-1', 'latin1', 'l1', 'ascii', 'us-ascii'],
        'Windows-1251' => ['windows-1251', 'cp1251'],
        'Windows-1254' => ['windows-1254', 'cp1254', 'iso-8859-9', 'latin5'],
        'ISO-8859-2' => ['iso-8859-2', 'iso8859-2', 'latin2', 'l2'],
        'ISO-8859-5' => ['iso-8859-5', 'cyrillic'],
        'ISO-8859-7' => ['iso-8859-7', 'greek'],
        'ISO-8859-15' => ['iso-8859-15', 'latin9'],
        'KOI8-R' => ['koi8-r', 'koi8'],
        'KOI8-U' => ['koi8-u'],
        'SJIS-win' => ['shift_jis', 'shift-jis', 'sjis', 'windows-31j'],
        'EUC-JP' => ['euc-jp'],
        'ISO-2022-JP' => ['iso-2022-jp'],
        'UHC' => ['euc-kr', 'ks_c_5601-1987', 'windows-949'],
        'GB18030' => ['gb18030', 'gbk', 'gb2312'],
        'BIG-5' => ['big5', 'big5-hkscs'],
    ];

    /**
     * UTF-8, with every line break a "\n" (WHATWG HTML, 13.2.3).
     *
     * @param string|null $declared the charset of the Content-Type header
     * @param bool        $isXml    whether it is XML, which declares its encoding itself (XML 1.0, 4.3.3), and is UTF-8 else
     */
    public static function decode(string $bytes, ?string $declared = null, bool $isXml = false): string
    {
        [$encoding, $skip] = match (true) {
            str_starts_with($bytes, "\xef\xbb\xbf") => ['UTF-8', 3],
            str_starts_with($bytes, "\xfe\xff") => ['UTF-16BE', 2],
            str_starts_with($bytes, "\xff\xfe") => ['UTF-16LE', 2],
            default => [self::known($declared) ?? self::known($isXml ? self::fromDeclaration($bytes) : self::fromMeta($bytes)) ?? 'UTF-8', 0],
        };
        $text = substr($bytes, $skip);
        if ($encoding === 'UTF-8' && ! mb_check_encoding($text, 'UTF-8')) {
            $encoding = $skip === 0 && $declared === null && ! $isXml ? 'Windows-1252' : 'UTF-8';
        }
        $text = $encoding === 'UTF-8' ? mb_scrub($text, 'UTF-8') : (string) mb_convert_encoding($text, 'UTF-8', $encoding);

        return str_replace(["\r\n", "\r"], "\n", $text);
    }

    private static function fromDeclaration(string $bytes): ?string
    {
        return preg_match('/\A<\?xml[^>]{0,200}?\sencoding\s*=\s*["\']([A-Za-z0-9._-]+)["\']/', $bytes, $m) === 1 ? $m[1] : null;
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

    private static function known(?string $label): ?string
    {
        $label = strtolower(trim((string) $label, " \t\n\f\r\"';"));
        foreach (self::LABELS as $encoding => $labels) {
            if (in_array($label, $labels, true)) {
                return $encoding;
            }
        }

        return null;
    }
}
