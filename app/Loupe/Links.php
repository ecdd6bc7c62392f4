<?php

declare(strict_types=1);

namespace App\Loupe;

use App\Experiments\WrittenExperiment;
use App\Models\Experiment;
use App\Models\LoupeLink;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Loupe\Purpose;
use Pellix\Core\Rules\AddressFacts;

/** Makes links to the Loupe. */
final class Links
{
    private const TOKEN_LENGTH = 43;

    /** So many of a site are open at a time. */
    private const MOST_OPEN = 200;

    /**
     * @param string $url of the page that it leads to first
     *
     * @throws ValidationException
     */
    public static function make(Site $site, Purpose $purpose, ?Experiment $experiment, ?string $variant, string $url, string $recipient, int $hours, User $by): LoupeLink
    {
        $facts = AddressFacts::of($url);
        $wrong = match (true) {
            preg_match('#\Ahttps?://#i', $url) !== 1 => ['url' => 'Give the whole address of a page, with https:// or http://.'],
            ! in_array($facts->host, $site->hosts, true) => ['url' => "The host {$facts->host} is none of this site's (".implode(', ', $site->hosts).').'],
            str_contains($url, 'plx-loupe=') => ['url' => 'This address has a link to the Loupe in it already: leave out what stands behind the #.'],
            $purpose === Purpose::Preview && $experiment === null => ['experiment' => 'Say which experiment the preview is of.'],
            $purpose === Purpose::Change && ($experiment?->state !== 'draft' || $experiment->kind === 'redirect') => ['experiment' => 'On the page, only a draft is changed whose variants change pages.'],
            $purpose === Purpose::Change && ($variant === null || (self::variants($experiment)[$variant]['control'] ?? false)) => ['variant' => 'Say which variant is to be changed; the control is the page as it is.'],
            $hours > $purpose->mostHours() => ['hours' => "A link of this kind lasts at most {$purpose->mostHours()} hours."],
            $variant !== null && ! isset(self::variants($experiment)[$variant]) => ['variant' => "The experiment has no variant \"{$variant}\"."],
            LoupeLink::query()->where('site_id', $site->id)->whereNull('revoked_at')->where('expires_at', '>', CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v'))->count() >= self::MOST_OPEN => ['url' => 'The site has '.self::MOST_OPEN.' open links: revoke some that are not needed any more.'],
            default => null,
        };
        $wrong === null || throw ValidationException::withMessages($wrong);
        $now = CarbonImmutable::now('UTC');
        $token = Str::random(self::TOKEN_LENGTH);

        return LoupeLink::query()->create([
            'site_id' => $site->id, 'experiment_id' => $experiment?->id, 'purpose' => $purpose, 'variant' => $variant, 'url' => $url, 'recipient' => $recipient, 'token' => $token, 'token_hash' => LoupeLink::hash($token),
            'author_id' => $by->id, 'author' => $by->name, 'created_at' => $now, 'expires_at' => $now->addHours($hours), 'pages' => 0,
        ]);
    }

    /** @return array<string, array<string, mixed>> by key; of a draft, as it was written last */
    private static function variants(?Experiment $experiment): array
    {
        return array_column($experiment === null ? [] : WrittenExperiment::of($experiment)['variants'] ?? [], null, 'key');
    }
}
