<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Har;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Formats\InvalidJson;
use Pellix\Core\Formats\JsonStream;

/** What a browser's network panel recorded. Source: HTTP Archive (HAR) format 1.2. */
final readonly class Capture
{
    private const MOST_ENTRIES = 200_000;

    /** So much of pages and answers is kept. */
    private const MOST_BYTES = 40_000_000;

    /** @param list<Exchange> $exchanges in the order of time */
    private function __construct(public array $exchanges)
    {
    }

    /** @throws InvalidHar|InvalidJson */
    public static function parse(string $text): self
    {
        $stream = fopen('php://temp', 'w+') ?: throw new \RuntimeException('No memory for a stream.');
        fwrite($stream, $text);
        rewind($stream);

        return self::read($stream);
    }

    /**
     * Reads an entry after another; of bodies those are kept that an inspection looks at.
     *
     * @param resource $stream
     *
     * @throws InvalidHar with the path of the field at fault, and its line
     * @throws InvalidJson
     */
    public static function read($stream): self
    {
        $exchanges = [];
        $hasEntries = false;
        $bytes = 0;
        foreach (JsonStream::values($stream, ['log.version', 'log.entries', 'log']) as [$path, $index, $line, $value]) {
            if ($path === 'log') {
                throw InvalidHar::at($line, 'The log of a HAR capture is a JSON object.', 'log');
            }
            if ($path === 'log.version') {
                // The standard: an empty version is 1.1.
                if ($value !== '' && $value !== null && (! is_string($value) || preg_match('/\A1\.\d+\z/', $value) !== 1)) {
                    throw InvalidHar::at($line, 'The version of the format is needed, such as "1.2".', 'log.version');
                }
                continue;
            }
            if ($index === null && $value !== []) {
                throw InvalidHar::at($line, 'The entries are a list.', 'log.entries');
            }
            $hasEntries = true;
            if ($index !== null) {
                $exchange = self::exchange($index, $line, $value);
                $bytes += strlen((string) $exchange->body);
                $exchanges[] = $bytes > self::MOST_BYTES ? $exchange->withoutBody() : $exchange;
            }
            if (count($exchanges) > self::MOST_ENTRIES) {
                throw InvalidHar::at($line, 'A capture may have '.number_format(self::MOST_ENTRIES).' requests.', 'log.entries');
            }
        }
        if (! $hasEntries) {
            throw new InvalidHar('The list of requests is missing.', 'log.entries');
        }
        usort($exchanges, static fn (Exchange $a, Exchange $b): int => [$a->at, $a->index] <=> [$b->at, $b->index]);

        return new self($exchanges);
    }

    private static function exchange(int $index, int $line, mixed $value): Exchange
    {
        try {
            return Fields::within("log.entries.{$index}", static fn (): Exchange => Exchange::read($index, $line, $value), InvalidHar::class);
        } catch (InvalidHar $e) {
            throw InvalidHar::at($line, $e->getMessage(), $e->field);
        }
    }

    /** @return array<string, list<Exchange>> the requests of each page that was visited */
    public function pages(): array
    {
        $pages = [];
        $page = '';
        foreach ($this->exchanges as $exchange) {
            // Who does not say for which page it asked, asked for the last one that began.
            $page = $exchange->page !== '' ? $exchange->page : ($exchange->beginsPage ? "entry {$exchange->index}" : $page);
            $pages[$page][] = $exchange;
        }

        return $pages;
    }
}
