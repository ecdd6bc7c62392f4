<?php

declare(strict_types=1);

namespace App\Collector;

use PDO;

/** Keeps what a rehearsal, a preview or a site's own people send, apart from everything that is counted. */
final readonly class ApartEvents
{
    /** None sends more: whatever runs away there fills no table. */
    public const MOST = 20_000;

    public function __construct(private PDO $db, private Apart $kind)
    {
    }

    /**
     * @param int                        $number  of the rehearsal, of the link, or of the site
     * @param list<array<string, mixed>> $rows    as EventRow makes them
     * @param list<array<string, mixed>> $rejects as Collector::reject makes them
     *
     * @return int|null how many of the events were new; null where there is no room for them
     */
    public function keep(int $number, array $rows, array $rejects): ?int
    {
        $there = $this->db->prepare("select count(*) from (select 1 from {$this->kind->table()} where {$this->kind->column()} = ? limit ".self::MOST.') some');
        $there->execute([$number]);
        if ((int) $there->fetchColumn() + count($rows) + count($rejects) > self::MOST) {
            return null;
        }
        $new = 0;
        foreach (['rows' => $rows, 'rejects' => array_map(self::rejected(...), $rejects)] as $kind => $some) {
            if ($some !== []) {
                [$sql, $values] = Rows::insertion($this->kind->table(), array_map(fn (array $row): array => [...$row, $this->kind->column() => $number], $some));
                // What is sent again is known by its id.
                $statement = $this->db->prepare("{$sql} on duplicate key update times = times + 1");
                $statement->execute($values);
                // MariaDB counts a row that was there as two.
                $new += $kind === 'rows' ? max(0, 2 * count($some) - $statement->rowCount()) : 0;
            }
        }

        return $new;
    }

    /**
     * @param array<string, mixed> $reject
     *
     * @return array<string, mixed>
     */
    private static function rejected(array $reject): array
    {
        return ['site_id' => $reject['site_id'], 'event_id' => null, 'received' => $reject['received'], 'time' => $reject['received'], 'rejected' => $reject['reason'], 'message' => $reject['message'], 'props' => $reject['sample']];
    }
}
