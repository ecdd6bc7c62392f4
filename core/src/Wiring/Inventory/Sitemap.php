<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inventory;

/** One sitemap file: addresses of pages, or of further sitemaps. Source: the sitemaps protocol 0.9 (sitemaps.org). */
final readonly class Sitemap
{
    /** The protocol's own limits for one file. */
    public const MOST_ADDRESSES = 50_000;

    private const MOST_BYTES = 52_428_800;

    /**
     * @param list<string> $pages
     * @param list<string> $sitemaps
     */
    private function __construct(public array $pages, public array $sitemaps)
    {
    }

    /**
     * Reads XML, plain text (one address a line), or either of them packed with gzip.
     *
     * @throws InvalidSitemap
     */
    public static function read(string $bytes): self
    {
        if (str_starts_with($bytes, "\x1f\x8b")) {
            $bytes = self::unpacked($bytes);
        }
        if (strlen($bytes) > self::MOST_BYTES) {
            throw new InvalidSitemap('A sitemap has at most 50 MB.');
        }
        $bytes = (string) preg_replace('/\A\xef\xbb\xbf/', '', $bytes);

        return preg_match('/\A\s*</', $bytes) === 1 ? self::xml($bytes) : self::lines($bytes);
    }

    private static function unpacked(string $bytes): string
    {
        // PHP warns of damage as well as answering false.
        set_error_handler(static fn (): bool => true);
        try {
            // One byte more than is allowed is enough to know that it is too much.
            $unpacked = gzdecode($bytes, self::MOST_BYTES + 1);
        } finally {
            restore_error_handler();
        }

        return $unpacked === false ? throw new InvalidSitemap('The file is packed with gzip, but damaged or larger than 50 MB.') : $unpacked;
    }

    private static function lines(string $text): self
    {
        $lines = preg_split('/\s*\R\s*/', trim($text), -1, PREG_SPLIT_NO_EMPTY) ?: [];
        $addresses = array_values(array_filter($lines, static fn (string $line): bool => preg_match('~\Ahttps?://\S+\z~i', $line) === 1));
        if ($addresses === []) {
            throw new InvalidSitemap('The file is neither XML nor a list of addresses.');
        }

        return new self(array_slice($addresses, 0, self::MOST_ADDRESSES), []);
    }

    private static function xml(string $xml): self
    {
        if (stripos($xml, '<!DOCTYPE') !== false) {
            // Its entities could unpack to any size, or read other files.
            throw new InvalidSitemap('A sitemap has no document type declaration.');
        }
        $reader = new \XMLReader();
        $quiet = libxml_use_internal_errors(true);
        try {
            $reader->XML($xml, null, LIBXML_NONET | LIBXML_COMPACT);
            $found = self::addresses($reader);
            $mistake = libxml_get_last_error();
            if ($mistake !== false && $mistake->level === LIBXML_ERR_FATAL) {
                throw new InvalidSitemap("The XML is broken at line {$mistake->line}: ".trim($mistake->message).'.');
            }

            return $found;
        } finally {
            libxml_clear_errors();
            libxml_use_internal_errors($quiet);
        }
    }

    private static function addresses(\XMLReader $reader): self
    {
        $found = ['url' => [], 'sitemap' => []];
        $inside = '';
        while (@$reader->read()) {
            if ($reader->nodeType !== \XMLReader::ELEMENT) {
                continue;
            }
            if ($reader->depth === 1) {
                $inside = $reader->localName;
            }
            // Deeper ones belong to extensions, such as an image's address.
            if ($reader->depth === 2 && $reader->localName === 'loc' && isset($found[$inside]) && count($found[$inside]) < self::MOST_ADDRESSES) {
                $found[$inside][] = trim($reader->readString());
            }
        }

        return new self($found['url'], $found['sitemap']);
    }
}
