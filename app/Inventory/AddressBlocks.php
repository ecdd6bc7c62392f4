<?php

namespace App\Inventory;

use App\Models\Page;
use App\Models\Site;
use Illuminate\Support\Facades\DB;

/** Finds pages by a part of their address: in texts of a thousand addresses each, which the workers keep up to date. */
final class AddressBlocks
{
    private const PAGES = 1000;

    /** So many texts are read at once. */
    private const AT_ONCE = 20;

    /** Makes those anew whose pages are others than they were. */
    public static function refresh(Site $site): void
    {
        $kept = DB::table('address_blocks')->where('site_id', $site->id)->pluck('stamp', 'block')->all();
        $now = DB::table('pages')->where('site_id', $site->id)->groupBy('block')
            ->selectRaw('id div ? as block, concat(count(*), " ", sum(id)) as stamp', [self::PAGES])->pluck('stamp', 'block')->all();
        foreach (array_diff_assoc($now, $kept) as $block => $stamp) {
            $pages = Page::query()->where('site_id', $site->id)->whereBetween('id', [$block * self::PAGES, ($block + 1) * self::PAGES - 1])->toBase()->orderBy('id')->pluck('brief', 'id');
            DB::table('address_blocks')->upsert([[
                'site_id' => $site->id, 'block' => $block, 'stamp' => $stamp, 'last_id' => $pages->keys()->last() ?? 0,
                'text' => $pages->map(static fn (string $brief, int $id): string => "{$id} {$brief}")->implode("\n"),
            ]], ['site_id', 'block'], ['stamp', 'last_id', 'text']);
        }
        DB::table('address_blocks')->where('site_id', $site->id)->whereIn('block', array_keys(array_diff_key($kept, $now)))->delete();
    }

    /**
     * @param string $words in small letters
     *
     * @return list<int>|null ids of the pages in whose first 160 bytes the words stand; null where they are more than `$most`
     */
    public static function find(Site $site, string $words, int $most): ?array
    {
        $blocks = DB::table('address_blocks')->where('site_id', $site->id)->whereRaw('locate(?, text) > 0', [$words])->pluck('block')->all();
        $found = [];
        foreach (array_chunk($blocks, self::AT_ONCE) as $some) {
            foreach (DB::table('address_blocks')->where('site_id', $site->id)->whereIn('block', $some)->pluck('text') as $text) {
                array_push($found, ...self::lines($text, $words));
            }
            if (count($found) > $most) {
                return null;
            }
        }
        // Pages that were added since then.
        $last = (int) DB::table('address_blocks')->where('site_id', $site->id)->max('last_id');
        $new = DB::table('pages')->where('site_id', $site->id)->where('id', '>', $last)->whereRaw('locate(?, brief) > 0', [$words])->limit($most + 1)->pluck('id')->all();
        $found = [...$found, ...array_map(intval(...), $new)];

        return count($found) > $most ? null : $found;
    }

    /** @return list<int> the ids of the lines in whose address the words stand */
    private static function lines(string $text, string $words): array
    {
        $found = [];
        $at = 0;
        while (($at = strpos($text, $words, $at)) !== false) {
            $begin = (int) strrpos($text, "\n", $at - strlen($text));
            $end = strpos($text, "\n", $at + 1) ?: strlen($text);
            [$id, $address] = explode(' ', ltrim(substr($text, $begin, $end - $begin), "\n"), 2);
            if (str_contains($address, $words)) {
                $found[] = (int) $id;
            }
            $at = $end;
        }

        return $found;
    }
}
