<?php

namespace App\Sites;

use App\Logbook\Logbook;
use App\Logbook\SecurityLog;
use App\Models\Site;
use App\Models\SiteKey;
use App\Models\User;
use App\Publishing\Publisher;
use App\Publishing\SiteFile;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;
use Pellix\Core\SignIn\SecurityMatter;
use Pellix\Core\Sites\KeyOverlap;
use Pellix\Core\Vocabulary\Thing;

/** Replaces the key of a site: for a while the one before counts too, until every page carries the new one. */
final readonly class SiteKeys
{
    public function __construct(private Publisher $publisher, private SiteFile $file, private Logbook $logbook, private SecurityLog $security)
    {
    }

    public static function random(): string
    {
        return 'plx_'.Str::lower(Str::random(16));
    }

    /** @throws ValidationException where too many count already */
    public function replace(Site $site, User $by, CarbonImmutable $endsAt): Site
    {
        $replaced = DB::transaction(function () use ($site, $by, $endsAt): Site {
            Site::hold($site->id);
            $site = Site::query()->findOrFail($site->id);
            KeyOverlap::hasRoom($site->earlierKeys()->counting()->count()) || throw ValidationException::withMessages(['ends_at' => KeyOverlap::MOST.' earlier keys count yet. End one of them first.']);
            $now = CarbonImmutable::now('UTC');
            SiteKey::query()->create(['key' => $site->key, 'site_id' => $site->id, 'replaced_at' => $now, 'replaced_by' => $by->name, 'ends_at' => $endsAt]);
            $old = $site->key;
            $site->update(['key' => self::random(), 'key_since' => $now]);
            $this->note($site, $by, [['field' => 'key', 'before' => $old, 'after' => $site->key], ['field' => "{$old} counts until", 'before' => null, 'after' => self::text($endsAt)]], "{$old} is replaced by {$site->key}");

            return $site;
        });
        // Under each key that counts; what was put back stays.
        $this->publisher->renew($replaced);

        return $replaced;
    }

    /** Another end for a key that was replaced; in the past for at once. */
    public function end(Site $site, SiteKey $key, User $by, CarbonImmutable $endsAt): void
    {
        $before = $key->ends_at;
        $key->ends_at = $endsAt;
        $key->removed_at = null;
        $key->save();
        $this->note($site, $by, [['field' => "{$key->key} counts until", 'before' => self::text($before), 'after' => self::text($endsAt)]], "{$key->key} counts until ".self::text($endsAt));
        $this->due(CarbonImmutable::now('UTC'));
        $site->archived_at === null && $this->publisher->renew($site);
    }

    /** The files of keys that have ended go. */
    public function due(CarbonImmutable $now): void
    {
        foreach (SiteKey::query()->whereNull('removed_at')->where('ends_at', '<=', $now->format('Y-m-d H:i:s.v'))->orderBy('ends_at')->limit(100)->get() as $key) {
            $this->file->remove($key->key);
            $key->update(['removed_at' => $now]);
        }
    }

    /** @param list<array{field: string, before: mixed, after: mixed}> $changes */
    private function note(Site $site, User $by, array $changes, string $words): void
    {
        $this->logbook->note($site->id, Thing::Site, $site->key, $site->name, 'changed', $changes, $by);
        $this->security->note(SecurityMatter::KeyReplaced, $by, $site, $words);
    }

    private static function text(CarbonImmutable $time): string
    {
        return $time->format('Y-m-d\TH:i:s\Z');
    }
}
