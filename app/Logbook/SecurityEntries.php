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
        $newest = static fn (Builder $of): Builder => $of->select('id')
            ->when($matters !== null, static fn (Builder $some) => $some->whereIn('matter', $matters))
            ->when(isset($asked['person']), static fn (Builder $some) => $some->where('user_id', $asked['person']))
            ->when(isset($asked['before']), static fn (Builder $some) => $some->where('id', '<', $asked['before']))
            ->orderByDesc('id')->limit(self::PAGE + 1);
        // Each by an index of its own: of one question about all three the database would read everybody's entries.
        $ids = $newest(SecurityEvent::query()->where('site_id', $site->id))
            ->unionAll($newest(SecurityEvent::query()->whereNull('site_id')->whereNull('user_id')))
            ->unionAll($newest(SecurityEvent::query()->whereNull('site_id')->whereIn('user_id', $people)))
            ->pluck('id')->sortDesc()->take(self::PAGE + 1);
        $events = SecurityEvent::query()->whereKey($ids)->orderByDesc('id')->get();

        return [
            'entries' => $events->take(self::PAGE)->map(static fn (SecurityEvent $one): array => [
                'id' => $one->id, 'at' => $one->at, 'matter' => $one->matter->value, 'refusal' => $one->matter->isRefusal(), 'person' => $one->person, 'address' => $one->address, 'agent' => $one->agent, 'note' => $one->note,
            ])->values()->all(),
            'next' => $events->count() > self::PAGE ? $events[self::PAGE - 1]->id : null,
        ];
    }
}
