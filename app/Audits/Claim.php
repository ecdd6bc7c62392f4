<?php

declare(strict_types=1);

namespace App\Audits;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Support\Facades\DB;

/** Takes the oldest that waits, or one that somebody has left; what ends its process is not tried for ever. */
final class Claim
{
    private const LEASE_SECONDS = 900;

    private const MOST_TRIES = 2;

    /**
     * @template T of Model
     *
     * @param Builder<T>           $all    with the columns state, worker, lease, tries, failure, ended_at
     * @param string               $worker who asks
     *
     * @return T|null
     */
    public static function next(Builder $all, string $worker): ?Model
    {
        return DB::transaction(static function () use ($all, $worker): ?Model {
            $now = CarbonImmutable::now('UTC');
            $next = (clone $all)->where(static fn ($any) => $any->where('state', 'waiting')->orWhere(static fn ($left) => $left->where('state', 'running')->where('lease', '<', $now->format('Y-m-d H:i:s.v'))))->orderBy('id')->lockForUpdate()->first();
            if ($next === null) {
                return null;
            }
            if ($next->getAttribute('tries') >= self::MOST_TRIES) {
                $next->update(['state' => 'failed', 'failure' => 'It ended the process that made it '.self::MOST_TRIES.' times: there may be too little memory or disk.', 'ended_at' => $now]);

                return null;
            }
            $next->update(['state' => 'running', 'worker' => $worker, 'lease' => $now->addSeconds(self::LEASE_SECONDS), 'tries' => $next->getAttribute('tries') + 1]);

            return $next;
        });
    }

    /**
     * Notes how one ended that is still this worker's.
     *
     * @template T of Model
     *
     * @param Builder<T>           $one
     * @param array<string, mixed> $columns
     */
    public static function end(Builder $one, array $columns): void
    {
        $one->where('state', 'running')->update([...$columns, 'worker' => null, 'lease' => null, 'ended_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]);
    }
}
