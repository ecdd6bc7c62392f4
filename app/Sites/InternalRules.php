<?php

namespace App\Sites;

use App\Logbook\Logbook;
use App\Models\Site;
use Closure;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Formats\Differences;
use Pellix\Core\Internal\InternalTraffic;
use Pellix\Core\Internal\InvalidInternal;
use Pellix\Core\Vocabulary\Thing;

/** Keeps by what a site's own people and machines are known. What has arrived already stays as it was counted: no address is kept. */
final readonly class InternalRules
{
    public function __construct(private Logbook $logbook)
    {
    }

    public static function of(Site $site): InternalTraffic
    {
        try {
            return InternalTraffic::read($site->internal ?? []);
        } catch (InvalidInternal) {
            // The collector takes no notice of them either.
            return InternalTraffic::read([]);
        }
    }

    /** @param array<string, mixed> $given addresses, agents and the rule; marks stay as they are */
    public function change(Site $site, array $given): Site
    {
        return $this->keep($site, static fn (InternalTraffic $now): array => [...array_intersect_key($given, ['addresses' => 0, 'agents' => 0, 'rule' => 0]), 'marks' => $now->toArray()['marks']]);
    }

    public function mark(Site $site, string $name): Site
    {
        return $this->keep($site, static function (InternalTraffic $now) use ($name): array {
            $all = $now->toArray();

            return [...$all, 'marks' => [...$all['marks'], ['name' => $name, 'token' => Str::lower(Str::random(20))]]];
        });
    }

    public function unmark(Site $site, string $token): Site
    {
        return $this->keep($site, static function (InternalTraffic $now) use ($token): array {
            $all = $now->toArray();
            $left = array_values(array_filter($all['marks'], static fn (array $mark): bool => ! hash_equals($mark['token'], $token)));
            abort_if(count($left) === count($all['marks']), 404);

            return [...$all, 'marks' => $left];
        });
    }

    /** @param Closure(InternalTraffic): array<string, mixed> $change */
    private function keep(Site $site, Closure $change): Site
    {
        return DB::transaction(function () use ($site, $change): Site {
            Site::hold($site->id);
            $site = Site::query()->findOrFail($site->id);
            $before = self::of($site);
            try {
                $after = InternalTraffic::read($change($before));
            } catch (InvalidInternal $e) {
                throw ValidationException::withMessages([$e->field === '' ? 'internal' : $e->field => $e->getMessage()]);
            }
            $differences = Differences::between(self::told($before), self::told($after));
            if ($differences !== []) {
                $site->internal = $after->isEmpty() ? null : $after->toArray();
                $site->noteSince();
                $site->save();
                $this->logbook->note($site->id, Thing::Site, $site->key, $site->name, 'changed', $differences);
            }

            return $site;
        });
    }

    /** @return array<string, mixed> for the Logbook: names of marks, without what would let others use them */
    private static function told(InternalTraffic $rules): array
    {
        $all = $rules->toArray();

        return ['internal' => [...$all, 'addresses' => array_map(static fn (array $one): string => trim("{$one['range']} {$one['note']}"), $all['addresses']), 'marks' => array_column($all['marks'], 'name')]];
    }
}
