<?php

namespace App\Logbook;

use App\Models\SecurityEvent;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\RateLimiter;
use Pellix\Core\SignIn\SecurityMatter;

/** Writes down who got in, who was refused, and what became of rights, keys and tokens. Nothing that is secret, or was typed as a secret, is in it. */
final readonly class SecurityLog
{
    /** Refusals of one client in a minute; more are not worth the room. */
    private const REFUSALS = 60;

    public function __construct(private Request $request)
    {
    }

    /** @param User|null $person whom it is about, where there is such an account */
    public function note(SecurityMatter $matter, ?User $person = null, ?Site $site = null, string $note = ''): void
    {
        $address = (string) $this->request->ip();
        if ($matter->isRefusal() && RateLimiter::hit("security-log:{$address}") > self::REFUSALS) {
            return;
        }
        SecurityEvent::query()->create([
            'at' => CarbonImmutable::now('UTC'), 'matter' => $matter, 'user_id' => $person?->id, 'person' => $person->name ?? '', 'site_id' => $site?->id,
            'address' => $address, 'agent' => self::line((string) $this->request->userAgent(), 255), 'note' => self::line($note, 500),
        ]);
    }

    /** What a stranger sends is one line, and UTF-8. */
    private static function line(string $text, int $most): string
    {
        return mb_substr(trim((string) preg_replace('/[\p{C}\s]+/u', ' ', mb_scrub(substr($text, 0, 4 * $most), 'UTF-8'))), 0, $most);
    }
}
