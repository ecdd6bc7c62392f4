<?php

declare(strict_types=1);

namespace App\Loupe;

use App\Models\LoupeLink;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\Gate;
use Pellix\Core\Loupe\Purpose;
use Pellix\Core\Rights\Right;

/** Says whether a token opens the Loupe on a page: whose it is, whether it still holds, and whether the page is one of its site. */
final class Access
{
    /**
     * @param string $origin of the page, as its browser says
     *
     * @throws Refused
     */
    public static function of(mixed $token, string $origin, CarbonImmutable $now): LoupeLink
    {
        $link = is_string($token) && preg_match('/\A[A-Za-z0-9]{43}\z/', $token) === 1 ? LoupeLink::query()->with('site', 'experiment', 'person')->where('token_hash', LoupeLink::hash($token))->first() : null;
        if ($link === null || ! $link->isOpen($now)) {
            // Which of these it is, nobody is told who may have guessed it.
            throw new Refused('This link opens nothing, or not any more.');
        }
        // A copy of a page has an origin of its own, which no browser tells.
        $isCopy = $origin === 'null' && $link->purpose === Purpose::Change;
        if (! $isCopy && ! in_array(strtolower((string) parse_url($origin, PHP_URL_HOST)), $link->site->hosts, true)) {
            throw new Refused('This page is none of the site that the link is for.');
        }
        // A preview was given away, and lasts; whoever looks does so under their own name, for as long as they may.
        if ($link->purpose !== Purpose::Preview && ($link->person === null || Gate::forUser($link->person)->denies(Right::Work->value, $link->site))) {
            throw new Refused('Whoever made this link may no longer work on the site.');
        }

        return $link;
    }
}
