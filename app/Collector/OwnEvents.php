<?php

declare(strict_types=1);

namespace App\Collector;

use PDO;
use Pellix\Core\Internal\InternalReason;

/** Keeps what a site's own people do, apart from everything that is counted, and counts how much of it there is by each reason. */
final readonly class OwnEvents
{
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
        $new = (new ApartEvents($this->db, Apart::Own))->keep($site, $rows, []);
        $received = (string) $rows[0]['received'];
        [$sql, $values] = Rows::insertion('own_counts', [['site_id' => $site, 'day' => substr($received, 0, 10), 'reason' => $reason->value, 'n' => count($rows), 'last' => $received]]);
        $this->db->prepare("{$sql} on duplicate key update n = n + values(n), last = greatest(last, values(last))")->execute($values);

        return $new;
    }
}
