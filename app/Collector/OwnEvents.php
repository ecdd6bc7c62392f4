<?php

declare(strict_types=1);

namespace App\Collector;

use PDO;
use Pellix\Core\Internal\InternalReason;

/** Keeps what a site's own people do, apart from everything that is counted, and counts how much of it there is by each reason. */
final readonly class OwnEvents
{
    /** Where there is no room left, so many of the oldest go. */
    private const DROPPED = 1000;

    public function __construct(private PDO $db)
    {
    }

    /**
     * @param non-empty-list<array<string, mixed>> $rows as EventRow makes them
     *
     * @return int how many were new
     */
    public function keep(int $site, InternalReason $reason, array $rows): int
    {
        $kept = new ApartEvents($this->db, Apart::Own);
        $new = $kept->keep($site, $rows, []);
        if ($new === null) {
            // Whoever looks whether they are known looks for what is newest.
            $this->db->prepare('delete from own_events where site_id = ? order by id limit '.self::DROPPED)->execute([$site]);
            $new = $kept->keep($site, $rows, []);
        }
        $received = (string) $rows[0]['received'];
        [$sql, $values] = Rows::insertion('own_counts', [['site_id' => $site, 'day' => substr($received, 0, 10), 'reason' => $reason->value, 'n' => count($rows), 'last' => $received]]);
        $this->db->prepare("{$sql} on duplicate key update n = n + values(n), last = greatest(last, values(last))")->execute($values);

        return $new ?? 0;
    }
}
