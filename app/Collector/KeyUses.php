<?php

declare(strict_types=1);

namespace App\Collector;

use PDO;

/** Notes when and from where a key that was replaced was still used: such pages will be lost when it ends. */
final readonly class KeyUses
{
    public function __construct(private PDO $db)
    {
    }

    public function note(string $key, string $page, \DateTimeImmutable $received): void
    {
        $this->db->prepare('update site_keys set last = ?, last_page = ? where `key` = ?')->execute([$received->format('Y-m-d H:i:s.v'), mb_strcut($page, 0, 500, 'UTF-8'), $key]);
    }
}
