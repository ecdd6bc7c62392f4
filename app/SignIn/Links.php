<?php

namespace App\SignIn;

use App\Models\AccountLink;
use Carbon\CarbonImmutable;
use Illuminate\Support\Str;

/** Links that let somebody in once: made, found, used. */
final class Links
{
    /** As many characters as the token has. */
    public const LENGTH = 43;

    /**
     * @param array<string, mixed> $of columns of App\Models\AccountLink
     *
     * @return array{AccountLink, string} the link, and its token, which is kept nowhere
     */
    public static function make(array $of, CarbonImmutable $now, CarbonImmutable $until): array
    {
        $token = Str::random(self::LENGTH);
        $link = AccountLink::query()->create([...$of, 'token_hash' => AccountLink::hash($token), 'created_at' => $now, 'expires_at' => $until]);

        return [$link, $token];
    }

    /** @return AccountLink|null one that is still open */
    public static function find(string $purpose, string $token, CarbonImmutable $now): ?AccountLink
    {
        $link = AccountLink::query()->where('token_hash', AccountLink::hash($token))->where('purpose', $purpose)->first();

        return $link?->isOpen($now) === true ? $link : null;
    }

    /** Of two who use it at once, one does. */
    public static function use(AccountLink $link, CarbonImmutable $now): bool
    {
        return AccountLink::query()->whereKey($link->id)->whereNull('used_at')->whereNull('revoked_at')->where('expires_at', '>', $now)->update(['used_at' => $now]) === 1;
    }
}
