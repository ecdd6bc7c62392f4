<?php

declare(strict_types=1);

namespace App\Collector;

use PDO;
use PDOException;
use PDOStatement;
use Pellix\Core\Events\Beacon;
use Pellix\Core\Events\ClockShift;
use Pellix\Core\Events\EventReader;
use Pellix\Core\Events\InvalidBeacon;
use Pellix\Core\Events\Origin;
use Pellix\Core\Events\RejectedEvent;
use Pellix\Core\Internal\InternalReason;

/** Takes one beacon: stores what is accepted once, keeps what is rejected with its reason, and says which was which. */
final readonly class Collector
{
    private const SAMPLE_BYTES = 2000;
    private const MOST_TRIES = 4;
    private const MOST_STRANGERS = 100;

    /** The reason of events that a browser had to let go, since too many waited. */
    public const LOST = 'lost-waiting';

    /** Error numbers of MariaDB: a key that is there already; a deadlock, and a lock that was waited for too long. */
    private const DUPLICATE = 1062;
    private const LOCKED = [1213, 1205];

    /**
     * @param Limits|null        $limits none for whoever is known and trusted
     * @param KnownSites|null    $known  where sites need not be asked for with each beacon
     * @param string|null        $key    of the application, by which marks are signed; null where nobody may claim one
     */
    public function __construct(private PDO $db, private ?Limits $limits = null, private ?KnownSites $known = null, private ?string $key = null)
    {
    }

    /** @param string $data the data folder, with the configuration that `artisan config:cache` wrote */
    public static function open(string $data): self
    {
        /** @var array{app: array{key: string}, pellix: array{site_events: int, buckets: string}} $config */
        $config = require "{$data}/cache/config.php";

        return new self(Connection::open($config), Limits::of($config['pellix']['buckets'], $config['pellix']['site_events']), new KnownSites($config['pellix']['buckets']), (string) $config['app']['key']);
    }

    /**
     * @param array{Apart, string}|null $claim   that the beacon is a rehearsal's or a preview's: the kind, and its mark
     * @param string                    $address of whoever sends it; it is compared, and kept nowhere
     */
    public function take(string $body, string $agent, \DateTimeImmutable $received, Origin $origin = Origin::Browser, ?array $claim = null, string $address = ''): Answer
    {
        try {
            $beacon = Beacon::read($body);
        } catch (InvalidBeacon $e) {
            return $this->refuse($e->status, $e->reason, $e->getMessage(), $body, $received, $this->site($e->site)['id'] ?? null);
        }
        $site = $this->site($beacon->site);
        if ($site === null) {
            $this->strange($beacon->site, $received);

            return $this->refuse(404, 'unknown-site', 'No site has this key.', $body, $received, null);
        }
        $seconds = $this->limits?->wait($site['id'], count($beacon->events), $site['ended']);
        if ($seconds !== null) {
            return Answer::tooMany($seconds);
        }
        if ($site['ended']) {
            return $this->refuse(410, 'key-ended', 'This key of the site has been replaced, and counts no more. Its pages need the new snippet.', $body, $received, $site['id']);
        }
        $number = $claim === null || $this->key === null ? null : (new Mark($claim[0], $this->key))->read($claim[1], $site['id'], $received->getTimestamp());
        if ($claim !== null && $number === null) {
            return Answer::refused(403, 'bad-mark', "This is no mark of a {$claim[0]->value} that this server holds.");
        }

        $reader = new EventReader($site['hosts'], ClockShift::between($beacon->sent, $received), $site['parameters'], $origin);
        $people = new OwnPeople($site['internal'], $address, $agent);
        $rows = $rejects = $report = $own = [];
        foreach ($beacon->events as $index => $json) {
            try {
                $event = $reader->read($json);
                $reason = $claim === null ? $people->reason($event) : null;
                if ($reason !== null) {
                    $own[$reason->value]["#{$event->id}"] ??= EventRow::of($site['id'], $event, $agent, $received, $index, $beacon->configuration);
                    continue;
                }
                // Twice in one beacon is a repetition like any other.
                $rows["#{$event->id}"] ??= EventRow::of($site['id'], $event, $agent, $received, $index, $beacon->configuration);
            } catch (RejectedEvent $e) {
                $id = is_array($json) && is_string($json['id'] ?? null) ? mb_strcut($json['id'], 0, 64) : null;
                $report[] = ['index' => $index, 'id' => $id, 'reason' => $e->reason(), 'message' => $e->getMessage()];
                $rejects[] = self::reject($site['id'], $e->reason(), $e->getMessage(), (string) json_encode($json, JSON_PARTIAL_OUTPUT_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE), $received);
            }
        }
        // In one order, so that two beacons with the same ids do not wait for each other.
        ksort($rows, SORT_STRING);
        $stored = $claim === null
            ? $this->store(array_values($rows), $rejects, $beacon->dropped)
            : (new ApartEvents($this->db, $claim[0]))->keep((int) $number, array_values($rows), $rejects) ?? 0;

        foreach ($own as $reason => $some) {
            ksort($some, SORT_STRING);
            $stored += (new OwnEvents($this->db))->keep($site['id'], InternalReason::from($reason), array_values($some));
        }
        if ($beacon->site !== $site['key'] && $rows !== [] && $this->limits?->mayNote($beacon->site) !== false) {
            (new KeyUses($this->db))->note($beacon->site, (string) reset($rows)['url'], $received);
        }

        return Answer::taken($stored, count($beacon->events) - count($report) - $stored, $report);
    }

    /**
     * @param list<array<string, mixed>> $rows
     * @param list<array<string, mixed>> $rejects
     *
     * @return int how many of the rows were new
     */
    private function store(array $rows, array $rejects, int $dropped = 0): int
    {
        $samples = [];
        foreach ($rejects as $reject) {
            // Where there is no room for one, there is none for the next.
            if ($this->limits?->mayKeep($reject['site_id']) === false) {
                break;
            }
            $samples[] = $reject;
        }
        for ($try = 1, $someAreKnown = false; ; $try++) {
            try {
                return $this->insert($rows, $rejects, $samples, $dropped, $someAreKnown);
            } catch (PDOException $e) {
                $code = $e->errorInfo[1] ?? 0;
                if ($try === self::MOST_TRIES || ! in_array($code, [self::DUPLICATE, ...self::LOCKED], true)) {
                    throw $e;
                }
                // Some ids are known, which is rare: so it is asked only then which.
                $someAreKnown = $someAreKnown || $code === self::DUPLICATE;
            }
        }
    }

    /**
     * @param list<array<string, mixed>> $rows
     * @param list<array<string, mixed>> $rejects
     * @param list<array<string, mixed>> $samples those of them that are kept; of the others there is a count
     */
    private function insert(array $rows, array $rejects, array $samples, int $dropped, bool $someAreKnown): int
    {
        $new = $someAreKnown ? $this->unknown($rows) : $rows;
        $statements = [
            ...($new === [] ? [] : [
                Rows::insertion('event_ids', array_map(static fn (array $row): array => EventRow::ledger((object) $row), $new)),
                Rows::insertion('events', $new),
            ]),
            ...($samples === [] ? [] : [Rows::insertion('rejected_events', $samples)]),
        ];
        $reasons = self::reasons($rejects) + ($dropped > 0 && $new !== [] ? [self::LOST => $dropped] : []);
        $site = $rows[0]['site_id'] ?? $rejects[0]['site_id'] ?? null;
        $received = $rows[0]['received'] ?? $rejects[0]['received'] ?? null;
        $unkept = [];
        foreach (array_diff_assoc($reasons, self::reasons($samples)) as $reason => $n) {
            $unkept[] = ['site_id' => $site, 'hour' => substr((string) $received, 0, 13).':00:00', 'reason' => $reason, 'n' => $n - (self::reasons($samples)[$reason] ?? 0), 'last' => $received];
        }
        if ($unkept !== [] && $site !== null) {
            [$sql, $values] = Rows::insertion('unkept_events', $unkept);
            $statements[] = ["{$sql} on duplicate key update n = n + values(n), last = values(last)", $values];
        }
        $arrivals = self::arrivals($new, $site === null ? [] : $reasons, $site, (string) $received);
        $this->together($arrivals === [] ? $statements : [...$statements, Rows::insertion('arrivals', $arrivals)]);

        return count($new);
    }

    /**
     * Executes statements in one transaction, and in one round to the database: whoever waits for several pays for each.
     *
     * @param list<array{string, list<mixed>}> $statements SQL and values
     */
    private function together(array $statements): void
    {
        if ($statements === []) {
            return;
        }
        // Within a transaction of somebody else's it is their end that counts.
        $isOwn = ! $this->db->inTransaction();
        $sql = implode('; ', [...($isOwn ? ['start transaction'] : []), ...array_column($statements, 0), ...($isOwn ? ['commit'] : [])]);
        // Several go together only where PHP writes them out.
        $emulated = (bool) $this->db->getAttribute(PDO::ATTR_EMULATE_PREPARES);
        $this->db->setAttribute(PDO::ATTR_EMULATE_PREPARES, true);
        try {
            $all = $this->execute([$sql, array_merge(...array_column($statements, 1))]);
            while ($all->nextRowset()) {
                // An error of any of them shows when it is come to.
            }
        } catch (PDOException $e) {
            $isOwn && $this->db->exec('rollback');

            throw $e;
        } finally {
            $this->db->setAttribute(PDO::ATTR_EMULATE_PREPARES, $emulated);
        }
    }

    /** @param array{string, list<mixed>} $statement SQL and values */
    private function execute(array $statement): PDOStatement
    {
        $prepared = $this->db->prepare($statement[0]);
        $prepared->execute($statement[1]);

        return $prepared;
    }

    /**
     * @param list<array<string, mixed>> $rows
     *
     * @return list<array<string, mixed>> those whose ids the ledger does not hold yet
     */
    private function unknown(array $rows): array
    {
        $ids = array_column($rows, 'event_id');
        $places = rtrim(str_repeat('?,', count($ids)), ',');
        // Whoever adds one of them meanwhile makes the insertion fail, which is then tried again.
        $known = $this->execute(["select event_id from event_ids where site_id = ? and event_id in ({$places})", [$rows[0]['site_id'], ...$ids]])->fetchAll(PDO::FETCH_COLUMN);

        return array_values(array_filter($rows, static fn (array $row): bool => ! in_array($row['event_id'], $known, true)));
    }

    /**
     * What the workers are told: a row a visitor, in the transaction that stores the events. So a beacon that is committed
     * late is learnt of late, and none is passed over, whatever numbers rows were given meanwhile.
     *
     * @param list<array<string, mixed>> $rows
     * @param array<string, int>         $reasons why how many were rejected
     *
     * @return list<array<string, mixed>>
     */
    private static function arrivals(array $rows, array $reasons, ?int $site, string $received): array
    {
        $arrivals = $visitors = [];
        foreach ($rows as $row) {
            $visitors["#{$row['visitor']}"][] = $row;
        }
        foreach ($visitors as $own) {
            $arrivals[] = self::arrival($own[0]['site_id'], $own[0]['visitor'], 'events', $own[0]['received'], array_column($own, 'event_id'));
        }
        if ($reasons !== [] && $site !== null) {
            $arrivals[] = self::arrival($site, null, 'rejected', $received, $reasons);
        }

        return $arrivals;
    }

    /**
     * @param array<mixed> $content
     *
     * @return array<string, mixed>
     */
    private static function arrival(int $site, ?string $visitor, string $kind, string $received, array $content): array
    {
        return ['site_id' => $site, 'visitor' => $visitor, 'kind' => $kind, 'received' => $received, 'content' => json_encode($content, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES)];
    }

    /**
     * @param list<array<string, mixed>> $rejects
     *
     * @return array<string, int>
     */
    private static function reasons(array $rejects): array
    {
        return array_count_values(array_column($rejects, 'reason'));
    }

    /** Beacons for a site that nobody has are counted by their key, for whoever runs this copy. */
    private function strange(string $key, \DateTimeImmutable $received): void
    {
        $day = $received->format('Y-m-d');
        $last = $received->format('Y-m-d H:i:s.v');
        // Made up keys must not fill the table: beyond so many a day they share a row.
        $this->execute([
            'insert into strangers (day, `key`, beacons, last) select ?, if((select count(*) from strangers where day = ?) < '.self::MOST_STRANGERS.' or exists (select 1 from strangers where day = ? and `key` = ?), ?, ""), 1, ?
                on duplicate key update beacons = beacons + 1, last = values(last)',
            [$day, $day, $day, $key, $key, $last],
        ]);
    }

    private function refuse(int $status, string $reason, string $message, string $body, \DateTimeImmutable $received, ?int $site): Answer
    {
        $this->store([], [self::reject($site, $reason, $message, $body, $received)]);

        return Answer::refused($status, $reason, $message);
    }

    /** @return array{id: int, key: string, hosts: list<string>, parameters: list<string>, internal: string, ended: bool}|null the key that it has now, and whether the one that was asked for has ended */
    private function site(?string $key): ?array
    {
        if ($key === null) {
            return null;
        }
        $site = $this->known?->get($key);
        if ($site === null) {
            $row = $this->execute(['select id, `key`, hosts, page_parameters, internal, 0 ended from sites where `key` = ? and archived_at is null', [$key]])->fetch(PDO::FETCH_OBJ)
                ?: $this->execute(['select s.id, s.`key`, s.hosts, s.page_parameters, s.internal, old.ends_at <= utc_timestamp(3) ended from site_keys old join sites s on s.id = old.site_id where old.`key` = ? and s.archived_at is null', [$key]])->fetch(PDO::FETCH_OBJ);
            $site = $row === false ? null : [
                'id' => (int) $row->id, 'key' => $row->key, 'hosts' => json_decode((string) $row->hosts, true), 'parameters' => json_decode((string) $row->page_parameters, true),
                'internal' => (string) $row->internal, 'ended' => (bool) $row->ended,
            ];
            $site === null || $this->known?->keep($key, $site);
        }

        return $site;
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
