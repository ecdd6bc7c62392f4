<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Database\Factories\SiteFactory;
use Illuminate\Database\Eloquent\Factories\HasFactory;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsToMany;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Formats\Moment;
use Pellix\Core\InvalidInput;
use Pellix\Core\Wiring\DataEvent;
use Pellix\Core\Wiring\Inspection\PageGroup;
use Pellix\Core\Wiring\SiteSettings;
use Pellix\Core\Wiring\Snippet;

/**
 * A web site that a specialist looks after.
 *
 * @property list<string>                  $page_parameters
 * @property array<string, string>|null    $settings_since
 * @property \Carbon\CarbonImmutable|null  $archived_at
 * @property \Carbon\CarbonImmutable|null  $deleting_at
 * @property bool                          $two_people
 * @property \Carbon\CarbonImmutable|null  $key_since       null where the key is the first
 * @property array<string, mixed>|null     $internal        by what own people are known
 * @property int                           $definitions
 * @property int                           $published_number
 * @property-read object{right: string}    $pivot            where it was read as one of a person's
 */
class Site extends Model
{
    /** @use HasFactory<SiteFactory> */
    use HasFactory;

    protected $fillable = [
        'key', 'name', 'hosts', 'time_zone', 'currency', 'cookie_days', 'srm_alpha', 'fresh_seconds',
        'data_layer', 'data_events', 'consent_mode', 'honour_gpc', 'session_minutes', 'tags', 'tags_revision', 'page_groups', 'page_parameters', 'naming', 'published_number', 'held_publication', 'publishing', 'settings_since', 'archived_at', 'two_people', 'key_since', 'internal',
    ];

    protected $casts = [
        'hosts' => StoredJson::class,
        'srm_alpha' => 'float',
        'cookie_days' => 'integer',
        'fresh_seconds' => 'integer',
        'honour_gpc' => 'boolean',
        'session_minutes' => 'integer',
        'tags' => StoredJson::class,
        'tags_revision' => 'integer',
        'page_groups' => StoredJson::class,
        'data_events' => StoredJson::class,
        'page_parameters' => StoredJson::class,
        'definitions' => 'integer',
        'published_number' => 'integer',
        'held_publication' => 'integer',
        'publishing' => StoredJson::class,
        'settings_since' => StoredJson::class,
        'archived_at' => 'immutable_datetime',
        'deleting_at' => 'immutable_datetime',
        'two_people' => 'boolean',
        'key_since' => 'immutable_datetime',
        'internal' => StoredJson::class,
    ];

    protected $attributes = ['tags' => '[]', 'data_events' => '[]', 'page_groups' => '[]', 'page_parameters' => '[]', 'definitions' => 0, 'consent_mode' => 'none', 'session_minutes' => 30, 'tags_revision' => 0, 'honour_gpc' => false, 'two_people' => false];

    public function getRouteKeyName(): string
    {
        return 'key';
    }

    /** @return BelongsToMany<User, $this> those who look after it */
    public function users(): BelongsToMany
    {
        return $this->everybody()->wherePivotNull('closed_at')->whereNull('users.deactivated_at');
    }

    /** @return BelongsToMany<User, $this> also those who may not any more */
    public function everybody(): BelongsToMany
    {
        return $this->belongsToMany(User::class)->withPivot('right', 'closed_at');
    }

    /** @return HasMany<Experiment, $this> */
    public function experiments(): HasMany
    {
        return $this->hasMany(Experiment::class);
    }

    /** @return HasMany<Goal, $this> */
    public function goals(): HasMany
    {
        return $this->hasMany(Goal::class);
    }

    /** @return HasMany<Audit, $this> */
    public function audits(): HasMany
    {
        return $this->hasMany(Audit::class);
    }

    /** @return HasMany<AuditLog, $this> */
    public function auditLogs(): HasMany
    {
        return $this->hasMany(AuditLog::class);
    }

    /** @return HasMany<LoupeLink, $this> */
    public function loupeLinks(): HasMany
    {
        return $this->hasMany(LoupeLink::class);
    }

    /** @return HasMany<Reconciliation, $this> */
    public function reconciliations(): HasMany
    {
        return $this->hasMany(Reconciliation::class);
    }

    /** @return HasMany<Exclusion, $this> */
    public function exclusions(): HasMany
    {
        return $this->hasMany(Exclusion::class);
    }

    /** @return HasMany<Webhook, $this> */
    public function webhooks(): HasMany
    {
        return $this->hasMany(Webhook::class);
    }

    /** @return HasMany<Delivery, $this> */
    public function deliveries(): HasMany
    {
        return $this->hasMany(Delivery::class);
    }

    /** @return HasMany<EventDefinition, $this> */
    public function eventDefinitions(): HasMany
    {
        return $this->hasMany(EventDefinition::class);
    }

    /** @return HasMany<Page, $this> */
    public function pages(): HasMany
    {
        return $this->hasMany(Page::class);
    }

    /** @return HasMany<Scan, $this> */
    public function scans(): HasMany
    {
        return $this->hasMany(Scan::class);
    }

    /** @return HasMany<Rehearsal, $this> */
    public function rehearsals(): HasMany
    {
        return $this->hasMany(Rehearsal::class);
    }

    /** @return HasMany<Finding, $this> */
    public function findings(): HasMany
    {
        return $this->hasMany(Finding::class);
    }

    /** @return HasMany<Brief, $this> */
    public function briefs(): HasMany
    {
        return $this->hasMany(Brief::class);
    }

    /** @return HasMany<Trial, $this> */
    public function trials(): HasMany
    {
        return $this->hasMany(Trial::class);
    }

    /** @return HasMany<WiringVersion, $this> */
    public function wiringVersions(): HasMany
    {
        return $this->hasMany(WiringVersion::class);
    }

    /**
     * Within a transaction that will change the site's row: takes it first. What is inserted with the site's number locks the row for
     * readers already, and two who do that and then want to change it would wait for each other.
     */
    public static function hold(int $id): void
    {
        DB::table('sites')->where('id', $id)->lockForUpdate()->value('id');
    }

    /** Lets the workers know that something else is counted from now on. */
    public function recount(): void
    {
        $this->increment('definitions');
    }

    public function publishedWiring(): ?WiringVersion
    {
        return $this->wiringVersions()->orderByDesc('number')->first();
    }

    /**
     * Notes, of settings that are about to be saved, since when they are as they are.
     *
     * @return list<string> which those are
     */
    public function noteSince(): array
    {
        $fields = array_keys($this->getDirty());
        if ($fields !== []) {
            $this->settings_since = [...($this->settings_since ?? []), ...array_fill_keys($fields, Moment::format(CarbonImmutable::now('UTC')))];
        }

        return $fields;
    }

    /** @return HasMany<SiteKey, $this> the keys that it had before */
    public function earlierKeys(): HasMany
    {
        return $this->hasMany(SiteKey::class);
    }

    /** @return list<string> all keys that pages may carry now, the present one first */
    public function keys(): array
    {
        return [$this->key, ...$this->earlierKeys()->counting()->orderByDesc('replaced_at')->pluck('key')->all()];
    }

    /** The site that has, or had, a key: what was bookmarked goes on to lead there. */
    public static function named(mixed $key): ?self
    {
        return self::query()->where('key', $key)->first() ?? self::query()->whereIn('id', SiteKey::query()->where('key', $key)->select('site_id'))->first();
    }

    private ?int $wiringNumber = null;

    /** Number of the newest wiring version, 0 for none; asked for once, however many ask. */
    public function wiringNumber(): int
    {
        return $this->wiringNumber ??= (int) $this->wiringVersions()->max('number');
    }

    /** @return list<PageGroup> in the order in which they are asked */
    public function groups(): array
    {
        return array_values(array_filter(array_map(static fn (mixed $group): ?PageGroup => self::readable($group, PageGroup::read(...)), $this->page_groups)));
    }

    /**
     * Null for one that was kept once and cannot be read any more: it says so at its own place, and leaves the others alone.
     *
     * @template T of object
     *
     * @param callable(mixed): T $read
     *
     * @return T|null
     */
    private static function readable(mixed $kept, callable $read): ?object
    {
        try {
            return $read($kept);
        } catch (InvalidInput) {
            return null;
        }
    }

    public function settings(): SiteSettings
    {
        return new SiteSettings(
            $this->key,
            $this->hosts,
            $this->cookie_days,
            $this->session_minutes,
            $this->data_layer,
            array_values(array_filter(array_map(static fn (mixed $event): ?DataEvent => self::readable($event, DataEvent::read(...)), $this->data_events))),
            $this->consent_mode === 'ask',
            $this->honour_gpc,
        );
    }

    public function snippet(): string
    {
        return Snippet::loader($this->key, config('app.url'));
    }
}
