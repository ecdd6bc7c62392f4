<?php

declare(strict_types=1);

namespace App\Notices;

use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Notices\QuietHours;
use Pellix\Core\Notices\Wish;
use Pellix\Core\Rights\Right;

/** What one person wants to be told about one site, and when not. */
final readonly class Settings
{
    public function __construct(public Wish $wish, public bool $digest, public ?string $quietFrom = null, public ?string $quietTo = null)
    {
    }

    /** Until somebody says otherwise: who works on a site hears of what spoils its data, and who only looks hears nothing. */
    public static function usual(Right $right): self
    {
        return $right->includes(Right::Work) ? new self(Wish::Blockers, true) : new self(Wish::Nothing, false);
    }

    public static function of(Site $site, User $person): self
    {
        $right = $person->rightOn($site);
        $kept = DB::table('notice_settings')->where('user_id', $person->id)->where('site_id', $site->id)->first();

        return match (true) {
            $right === null => new self(Wish::Nothing, false),
            $kept === null => self::usual($right),
            default => self::read($kept),
        };
    }

    /**
     * Those of everybody who looks after a site.
     *
     * @return list<array{User, self}>
     */
    public static function ofAll(Site $site): array
    {
        $kept = DB::table('notice_settings')->where('site_id', $site->id)->get()->keyBy('user_id');

        return $site->users()->orderBy('name')->orderBy('users.id')->limit(500)->get()
            ->map(static fn (User $one): array => [$one, isset($kept[$one->id]) ? self::read($kept[$one->id]) : self::usual(Right::from($one->pivot->right))])->values()->all();
    }

    public function keep(Site $site, User $person): void
    {
        DB::table('notice_settings')->upsert([[
            'user_id' => $person->id, 'site_id' => $site->id, 'wish' => $this->wish->value, 'digest' => $this->digest, 'quiet_from' => $this->quietFrom, 'quiet_to' => $this->quietTo,
        ]], ['user_id', 'site_id']);
    }

    /** When the person may be told something; null for at once. */
    public function quietUntil(Site $site, CarbonImmutable $now): ?CarbonImmutable
    {
        if ($this->quietFrom === null || $this->quietTo === null) {
            return null;
        }
        $until = QuietHours::of($this->quietFrom, $this->quietTo)->until($now->setTimezone($site->time_zone)->toDateTimeImmutable());

        return $until === null ? null : CarbonImmutable::instance($until)->utc();
    }

    private static function read(object $kept): self
    {
        return new self(Wish::from($kept->wish), (bool) $kept->digest, $kept->quiet_from, $kept->quiet_to);
    }
}
