<?php

declare(strict_types=1);

namespace App\Collector;

use Illuminate\Database\ConnectionInterface;
use Pellix\Core\Events\Beacon;
use Pellix\Core\Events\ClockShift;
use Pellix\Core\Events\EventReader;
use Pellix\Core\Events\InvalidBeacon;
use Pellix\Core\Events\RejectedEvent;

/** Takes one beacon: stores what is accepted once, keeps what is rejected with its reason, and says which was which. */
final readonly class Collector
{
    private const SAMPLE_BYTES = 2000;

    public function __construct(private ConnectionInterface $db)
    {
    }

    public function take(string $body, string $agent, \DateTimeImmutable $received): Answer
    {
        try {
            $beacon = Beacon::read($body);
        } catch (InvalidBeacon $e) {
            return $this->refuse($e->status, $e->reason, $e->getMessage(), $body, $received, $this->site($e->site)['id'] ?? null);
        }
        $site = $this->site($beacon->site);
        if ($site === null) {
            return $this->refuse(404, 'unknown-site', 'No site has this key.', $body, $received, null);
        }

        $reader = new EventReader($site['hosts'], ClockShift::between($beacon->sent, $received));
        $rows = $rejects = $report = [];
        foreach ($beacon->events as $index => $json) {
            try {
                $event = $reader->read($json);
                // Twice in one beacon is a repetition like any other.
                $rows[$event->id] ??= EventRow::of($site['id'], $event, $agent, $received);
            } catch (RejectedEvent $e) {
                $id = is_array($json) && is_string($json['id'] ?? null) ? mb_strcut($json['id'], 0, 64) : null;
                $report[] = ['index' => $index, 'id' => $id, 'reason' => $e->reason(), 'message' => $e->getMessage()];
                $rejects[] = self::reject($site['id'], $e->reason(), $e->getMessage(), (string) json_encode($json, JSON_PARTIAL_OUTPUT_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE), $received);
            }
        }
        $stored = $this->store($rows, $rejects);

        return Answer::taken($stored, count($beacon->events) - count($report) - $stored, $report);
    }

    /**
     * @param array<string, array<string, mixed>> $rows
     * @param list<array<string, mixed>>          $rejects
     *
     * @return int how many of the rows were new
     */
    private function store(array $rows, array $rejects): int
    {
        // Written out: this is the hot path, where a query builder would cost as much as the query.
        return $this->db->transaction(function () use ($rows, $rejects): int {
            if ($rejects !== []) {
                $this->db->affectingStatement(...self::insertion('rejected_events', $rejects));
            }
            if ($rows === []) {
                return 0;
            }
            [$sql, $values] = self::insertion('events', array_values($rows));

            // A repeated id updates itself to what it is, which counts as no affected row.
            return $this->db->affectingStatement("{$sql} on duplicate key update event_id = event_id", $values);
        }, 3);
    }

    /**
     * @param non-empty-list<array<string, mixed>> $rows all with the same columns
     *
     * @return array{string, list<mixed>} SQL and values
     */
    private static function insertion(string $table, array $rows): array
    {
        $columns = implode(', ', array_map(static fn (string $column): string => "`{$column}`", array_keys($rows[0])));
        $places = '('.implode(', ', array_fill(0, count($rows[0]), '?')).')';

        return [
            "insert into {$table} ({$columns}) values ".implode(', ', array_fill(0, count($rows), $places)),
            array_merge(...array_map(array_values(...), $rows)),
        ];
    }

    private function refuse(int $status, string $reason, string $message, string $body, \DateTimeImmutable $received, ?int $site): Answer
    {
        $this->db->affectingStatement(...self::insertion('rejected_events', [self::reject($site, $reason, $message, $body, $received)]));

        return Answer::refused($status, $reason, $message);
    }

    /** @return array{id: int, hosts: list<string>}|null */
    private function site(?string $key): ?array
    {
        $row = $key === null ? null : $this->db->selectOne('select id, hosts from sites where `key` = ?', [$key]);

        return $row === null ? null : ['id' => (int) $row->id, 'hosts' => json_decode((string) $row->hosts, true)];
    }

    /** @return array<string, mixed> */
    private static function reject(?int $site, string $reason, string $message, string $sample, \DateTimeImmutable $received): array
    {
        return [
            'site_id' => $site,
            'received' => $received->format('Y-m-d H:i:s.v'),
            'reason' => $reason,
            'message' => mb_strcut(mb_scrub($message, 'UTF-8'), 0, 500, 'UTF-8'),
            'sample' => mb_strcut(mb_scrub($sample, 'UTF-8'), 0, self::SAMPLE_BYTES, 'UTF-8'),
        ];
    }
}
