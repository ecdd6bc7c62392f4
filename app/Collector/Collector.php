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
                $rejects[] = self::reject($site['id'], $e->reason(), $e->getMessage(), (string) json_encode($json, JSON_PARTIAL_OUTPUT_ON_ERROR), $received);
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
        return $this->db->transaction(function () use ($rows, $rejects): int {
            if ($rejects !== []) {
                $this->db->table('rejected_events')->insert($rejects);
            }

            // A repeated id updates itself to what it is, which counts as no affected row.
            return $rows === [] ? 0 : $this->db->table('events')->upsert(array_values($rows), ['site_id', 'event_id'], ['event_id']);
        }, 3);
    }

    private function refuse(int $status, string $reason, string $message, string $body, \DateTimeImmutable $received, ?int $site): Answer
    {
        $this->db->table('rejected_events')->insert(self::reject($site, $reason, $message, $body, $received));

        return Answer::refused($status, $reason, $message);
    }

    /** @return array{id: int, hosts: list<string>}|null */
    private function site(?string $key): ?array
    {
        $row = $key === null ? null : $this->db->table('sites')->where('key', $key)->first(['id', 'hosts']);

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
