<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Har;

use Pellix\Core\Formats\Fields;

/** What a browser's network panel recorded. Source: HTTP Archive (HAR) format 1.2. */
final readonly class Capture
{
    /** @param list<Exchange> $exchanges in the order of time */
    private function __construct(public array $exchanges)
    {
    }

    /** @throws InvalidHar with the path of the field at fault */
    public static function read(mixed $json): self
    {
        $file = new Fields($json, InvalidHar::class, 'A HAR capture');
        $log = $file->part('log', static fn (mixed $log): Fields => new Fields($log, InvalidHar::class, 'The log of a HAR capture'));
        $file->part('log', static fn (): string => $log->pattern('version', '/\A1\.\d+\z/', 'The version of the format is needed, such as "1.2".'));
        if (! is_array($log->raw('entries'))) {
            throw new InvalidHar('The list of requests is missing.', 'log.entries');
        }
        $exchanges = [];
        foreach ($log->list('entries') as $i => $entry) {
            $exchanges[] = Fields::within("log.entries.{$i}", static fn (): Exchange => Exchange::read($i, $entry), InvalidHar::class);
        }
        usort($exchanges, static fn (Exchange $a, Exchange $b): int => [$a->at, $a->index] <=> [$b->at, $b->index]);

        return new self($exchanges);
    }

    /** @return array<string, list<Exchange>> the requests of each page that was visited */
    public function pages(): array
    {
        $pages = [];
        foreach ($this->exchanges as $exchange) {
            $pages[$exchange->page][] = $exchange;
        }

        return $pages;
    }
}
