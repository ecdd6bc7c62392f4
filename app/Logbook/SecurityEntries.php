<?php

namespace App\Logbook;

use App\Models\SecurityEvent;
use App\Models\Site;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Facades\DB;
use Pellix\Core\SignIn\SecurityMatter;

/**
 * Reads the security log as an owner of a site may: what happened on the site, what the people of the site did or suffered anywhere but
 * on other sites, and what was tried on this copy without an account, which may be the beginning of something.
 */
final class SecurityEntries
{
    private const PAGE = 50;

    /**
     * @param array{matter?: string|null, person?: int|null, refusals?: bool, before?: int|null} $asked
     *
     * @return array{entries: list<array<string, mixed>>, next: int|null}
     */
    public static function page(Site $site, array $asked): array
    {
        $people = DB::table('site_user')->where('site_id', $site->id)->limit(1000)->pluck('user_id')->all();
        $matters = match (true) {
            isset($asked['matter']) => [$asked['matter']],
            $asked['refusals'] ?? false => array_values(array_map(static fn (SecurityMatter $one): string => $one->value, array_filter(SecurityMatter::cases(), static fn (SecurityMatter $one): bool => $one->isRefusal()))),
            default => null,
        };
        $events = SecurityEvent::query()
            ->where(static fn (Builder $mine) => $mine->where('site_id', $site->id)
                ->orWhere(static fn (Builder $theirs) => $theirs->whereNull('site_id')->where(static fn (Builder $of) => $of->whereNull('user_id')->orWhereIn('user_id', $people))))
            ->when($matters !== null, static fn (Builder $some) => $some->whereIn('matter', $matters))
            ->when(isset($asked['person']), static fn (Builder $some) => $some->where('user_id', $asked['person']))
            ->when(isset($asked['before']), static fn (Builder $some) => $some->where('id', '<', $asked['before']))
            ->orderByDesc('id')->limit(self::PAGE + 1)->get();

        return [
            'entries' => $events->take(self::PAGE)->map(static fn (SecurityEvent $one): array => [
                'id' => $one->id, 'at' => $one->at, 'matter' => $one->matter->value, 'refusal' => $one->matter->isRefusal(), 'person' => $one->person, 'address' => $one->address, 'agent' => $one->agent, 'note' => $one->note,
            ])->values()->all(),
            'next' => $events->count() > self::PAGE ? $events[self::PAGE - 1]->id : null,
        ];
    }
}
