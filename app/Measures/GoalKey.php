<?php

declare(strict_types=1);

namespace App\Measures;

use App\Models\Site;
use Illuminate\Support\Str;

/** The key of a goal that was given a name alone. */
final class GoalKey
{
    private const LONGEST = 55;

    /** Addresses of the interface and of the API take these words. */
    private const TAKEN = ['new', 'trial'];

    public static function of(string $name): string
    {
        $slug = Str::limit(Str::slug($name), self::LONGEST, '') ?: Str::lower(Str::random(6));

        return in_array($slug, self::TAKEN, true) ? "{$slug}-goal" : $slug;
    }

    /** One that no goal of the site has. */
    public static function free(Site $site, string $name): string
    {
        $key = self::of($name);
        $taken = $site->goals()->where('key', 'like', "{$key}%")->pluck('key')->all();
        for ($i = 2, $free = $key; in_array($free, $taken, true); $i++) {
            $free = "{$key}-{$i}";
        }

        return $free;
    }
}
