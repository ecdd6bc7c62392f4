<?php

namespace App\Sites;

use App\Logbook\Logbook;
use App\Models\Site;
use App\Models\User;
use App\Publishing\Publisher;
use App\Publishing\SiteFile;
use Carbon\CarbonImmutable;
use Illuminate\Database\UniqueConstraintViolationException;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Sites\SiteDraft;
use Pellix\Core\Vocabulary\Thing;

/** Makes, changes and archives sites. */
final readonly class SiteStore
{
    public function __construct(private Publisher $publisher, private SiteFile $file, private Logbook $logbook)
    {
    }

    public function make(SiteDraft $draft, User $owner): Site
    {
        do {
            try {
                $site = DB::transaction(static function () use ($draft, $owner): Site {
                    $site = Site::query()->create(['key' => SiteKeys::random(), ...self::columns($draft)]);
                    $site->users()->attach($owner, ['right' => 'own']);

                    return $site;
                });
            } catch (UniqueConstraintViolationException) {
                $site = null;
            }
        } while ($site === null);
        // The snippet's file is there before anybody pastes the snippet.
        $this->publisher->publish($site);

        return $site;
    }

    public function change(Site $site, SiteDraft $draft): Site
    {
        $changed = DB::transaction(static function () use ($site, $draft): Site {
            Site::hold($site->id);
            $site = Site::query()->findOrFail($site->id);
            $site->fill(self::columns($draft));
            $fields = $site->noteSince();
            if ($fields !== []) {
                $site->save();
                // Hits are counted by session, and money by currency: with other ones they are counted anew.
                array_intersect($fields, ['session_minutes', 'currency', 'time_zone']) === [] || $site->recount();
            }

            return $site;
        });
        $changed->archived_at === null && $this->publisher->publish($changed);

        return $changed;
    }

    /** @throws ValidationException while an experiment runs */
    public function archive(Site $site): void
    {
        DB::transaction(function () use ($site): void {
            Site::hold($site->id);
            $live = $site->experiments()->whereIn('state', ['running', 'scheduled', 'paused'])->orWhere(static fn ($kept) => $kept->where('site_id', $site->id)->whereNotNull('kept_variant'))->orderBy('id')->limit(3)->pluck('name')->all();
            $live === [] || throw ValidationException::withMessages(['site' => 'Its pages still get something from experiments. End these first: '.implode(', ', $live).'.']);
            if ($site->archived_at === null) {
                $site->update(['archived_at' => CarbonImmutable::now('UTC')]);
                $this->logbook->note($site->id, Thing::Site, $site->key, $site->name, 'archived');
            }
        });
        $this->file->remove(...$site->keys());
    }

    public function restore(Site $site): void
    {
        if ($site->archived_at !== null) {
            $site->update(['archived_at' => null]);
            $this->logbook->note($site->id, Thing::Site, $site->key, $site->name, 'taken from the archive');
            $this->publisher->renew($site);
        }
    }

    /** @return array<string, mixed> */
    private static function columns(SiteDraft $draft): array
    {
        return [
            'name' => $draft->name, 'hosts' => $draft->hosts, 'time_zone' => $draft->timeZone, 'currency' => $draft->currency, 'cookie_days' => $draft->cookieDays,
            'session_minutes' => $draft->sessionMinutes, 'srm_alpha' => $draft->srmAlpha, 'fresh_seconds' => $draft->freshSeconds, 'two_people' => $draft->twoPeople,
        ];
    }
}
