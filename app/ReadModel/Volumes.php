<?php

namespace App\ReadModel;

use Pellix\Core\Pages\PageKey;
use Pellix\Core\Rules\AddressFacts;

/** How much came, by the hour: per event, page, host, variant and browser; rejected and late events; visitors; addresses. */
final class Volumes
{
    /** What arrives longer than this after it happened was kept in a browser (common practice, no source). */
    private const LATE_SECONDS = 300;

    /** @var array<string, array{int, string}> "by item hour" => number, last */
    private array $volumes = [];

    /** @var array<string, array{int, string}> "page hour" => number, last */
    private array $pages = [];

    /** @var array<int, array{string, string, string}> page => address, first, host */
    private array $addresses = [];

    /** @var array<string, array{first: string, last: string, view: string|null, events: int, met: array{int, string}|null}> */
    private array $visitors = [];

    /** @param list<string> $parameters that tell one page of the site from another */
    public function __construct(private readonly int $site, private readonly array $parameters)
    {
    }

    /** @param list<object> $rows events that have not been counted yet, of any visitors */
    public function add(array $rows): void
    {
        foreach ($rows as $row) {
            $hour = substr($row->time, 0, 13).':00:00';
            $this->count('event', $row->name, $hour, $row->time);
            $this->count('browser', $row->browser ?? '', $hour, $row->time);
            $known = $this->addresses[$row->page] ?? [$row->url, $row->time, AddressFacts::of($row->url)->host];
            $this->addresses[$row->page] = [$known[0], min($known[1], $row->time), $known[2]];
            $this->count('host', $known[2], $hour, $row->time);
            if ($row->name === 'page_view') {
                $this->tally($this->pages, "{$row->page} {$hour}", 1, $row->time);
            } elseif ($row->name === 'exposure' && $row->variant !== null) {
                $this->count('variant', "{$row->experiment} {$row->variant}", $hour, $row->time);
            } elseif ($row->name === 'tag_fired' && is_string($tag = json_decode($row->props, true)['tag'] ?? null)) {
                $this->count('tag', mb_strcut($tag, 0, 100, 'UTF-8'), $hour, $row->time);
            }
            if ($row->received !== $row->time && strtotime($row->received) - strtotime($row->time) > self::LATE_SECONDS) {
                $this->count('late', $row->name, $hour, $row->time);
            }
            $this->visitor($row);
        }
    }

    /** @param array<string, int> $reasons reason => how many events were rejected for it */
    public function reject(array $reasons, string $received): void
    {
        foreach ($reasons as $reason => $n) {
            $this->tally($this->volumes, "rejected\0{$reason}\0".substr($received, 0, 13).':00:00', $n, $received);
        }
    }

    public function write(): void
    {
        ksort($this->volumes, SORT_STRING);
        Upserts::write('volumes', array_map(function (string $key, array $seen): array {
            [$by, $item, $hour] = explode("\0", $key);

            return ['site_id' => $this->site, 'by' => $by, 'item' => $item, 'hour' => $hour, 'n' => $seen[0], 'last' => $seen[1]];
        }, array_keys($this->volumes), $this->volumes), ['n' => '+', 'last' => 'max']);
        Upserts::write('page_volumes', array_map(function (string $key, array $seen): array {
            [$page, $hour] = explode(' ', $key, 2);

            return ['site_id' => $this->site, 'page' => $page, 'hour' => $hour, 'n' => $seen[0], 'last' => $seen[1]];
        }, array_keys($this->pages), $this->pages), ['n' => '+', 'last' => 'max']);
        Upserts::write('addresses', array_map(function (int $page, array $seen): array {
            $key = PageKey::of($seen[0], $this->parameters)->text;

            return ['site_id' => $this->site, 'page' => $page, 'url' => mb_strcut($key, 0, 2000, 'UTF-8'), 'host' => mb_strcut(AddressFacts::of($key)->host, 0, 255, 'UTF-8'), 'first' => $seen[1]];
        }, array_keys($this->addresses), $this->addresses), ['first' => 'min']);
        Visitors::write($this->site, $this->visitors);
    }

    private function visitor(object $row): void
    {
        $known = $this->visitors["#{$row->visitor}"] ?? ['first' => $row->time, 'last' => $row->time, 'view' => null, 'events' => 0, 'met' => null];
        $this->visitors["#{$row->visitor}"] = [
            'first' => min($known['first'], $row->time),
            'last' => max($known['last'], $row->time),
            'view' => $row->name === 'page_view' ? max($known['view'], $row->time) : $known['view'],
            'events' => $known['events'] + 1,
            'met' => $row->configuration !== null && $row->configuration >= ($known['met'][0] ?? 0) ? [(int) $row->configuration, $row->configuration === ($known['met'][0] ?? null) ? min($known['met'][1], $row->time) : $row->time] : $known['met'],
        ];
    }

    private function count(string $by, string $item, string $hour, string $time): void
    {
        $this->tally($this->volumes, "{$by}\0{$item}\0{$hour}", 1, $time);
    }

    /** @param array<string, array{int, string}> $to */
    private function tally(array &$to, string $key, int $n, string $time): void
    {
        $known = $to[$key] ?? [0, ''];
        $to[$key] = [$known[0] + $n, max($known[1], $time)];
    }
}
