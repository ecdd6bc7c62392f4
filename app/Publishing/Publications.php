<?php

declare(strict_types=1);

namespace App\Publishing;

use App\Models\Publication;
use App\Models\Site;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Formats\Differences;

/** What was published on a site of late, and who has met it. Reads, and nothing else. */
final class Publications
{
    /** @return array{number: int, published_at: \Carbon\CarbonImmutable|null, met: array{visitors: int, first: string|null}, trouble: array{why: string, since: string}|null, held: bool} */
    public static function now(Site $site): array
    {
        return [
            'number' => $site->published_number,
            'published_at' => Publication::query()->where('site_id', $site->id)->where('number', $site->published_number)->first(['published_at'])?->published_at,
            'met' => self::met(self::metSince($site, $site->published_number), $site->published_number),
            'trouble' => $site->publishing,
            'held' => $site->held_publication !== null,
        ];
    }

    /** @return list<array<string, mixed>> the newest first */
    public static function newest(Site $site): array
    {
        $rows = Publication::query()->where('site_id', $site->id)->orderByDesc('number')->limit(Publisher::PUT_BACK + 2)->get();
        $met = self::metSince($site, $rows->min('number') ?? 0);

        return $rows->take(Publisher::PUT_BACK + 1)->values()->map(static fn (Publication $one, int $i): array => [
            ...$one->only('number', 'published_at', 'puts_back', 'author'),
            'met' => self::met($met, $one->number),
            'changes' => isset($rows[$i + 1]) ? Differences::between(self::content($rows[$i + 1]), self::content($one)) : [],
            'experiments' => array_column((array) (self::content($one)['experiments'] ?? []), 'key'),
        ])->all();
    }

    /** @return array<string, mixed> */
    private static function content(Publication $one): array
    {
        return array_diff_key((array) json_decode($one->configuration, true), ['number' => 0]);
    }

    /** @return list<object{number: int, visitors: int, first: string}> who has met which, of those from a number on */
    private static function metSince(Site $site, int $number): array
    {
        return DB::table('configurations_met')->where('site_id', $site->id)->where('number', '>=', $number)->orderBy('number')->get(['number', 'visitors', 'first'])->all();
    }

    /**
     * @param list<object{number: int, visitors: int, first: string}> $all
     *
     * @return array{visitors: int, first: string|null} how many have met this one, or one that came after it; and the first of those
     */
    private static function met(array $all, int $number): array
    {
        $since = array_values(array_filter($all, static fn (object $one): bool => $one->number >= $number));
        // The first of its own: a clock that is slow tells earlier times of later ones.
        $first = $since === [] ? null : ((int) $since[0]->number === $number ? $since[0]->first : min(array_column($since, 'first')));

        return ['visitors' => array_sum(array_map(static fn (object $one): int => (int) $one->visitors, $since)), 'first' => $first === null ? null : str_replace(' ', 'T', (string) $first).'Z'];
    }
}
