<?php

namespace App\Models;

use Carbon\CarbonImmutable;

/** A link that opens something without an account, until it ends or is revoked; its token is known by its hash. */
trait OpensByToken
{
    public static function hash(string $token): string
    {
        return hash('sha256', $token);
    }

    public function isOpen(CarbonImmutable $now): bool
    {
        return $this->revoked_at === null && $this->expires_at > $now;
    }
}
