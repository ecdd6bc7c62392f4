<?php

declare(strict_types=1);

namespace App\Notices;

use App\Models\Delivery;
use App\Models\Notice;
use App\Models\User;
use App\Notices\Mail\DigestMail;
use App\Notices\Mail\TestMail;
use App\Notices\Mail\TroublesMail;
use Carbon\CarbonImmutable;
use Illuminate\Contracts\Mail\Mailer;
use Illuminate\Database\Eloquent\Collection;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Notices\DeliveryState;
use Pellix\Core\Notices\Retries;
use Pellix\Core\Wiring\Findings\Severity;

/** Tells what is due: troubles of one site to one person in one mail, to each address one by one. */
final readonly class Deliverer
{
    private const AT_ONCE = 50;

    /** A round begins nothing more after so long, in seconds: the next one goes on. */
    private const SECONDS = 40;

    /** So long nobody else takes up what was claimed, in seconds: longer than a round and its last call. */
    private const LEASE = 180;

    public function __construct(private Mailer $mailer, private WebhookCaller $caller)
    {
    }

    public function due(CarbonImmutable $now): void
    {
        $began = hrtime(true);
        $failing = [];
        do {
            $claimed = $this->claim($now, $failing);
            foreach ($this->together($claimed) as $some) {
                if ((hrtime(true) - $began) / 1e9 > self::SECONDS || in_array($some[0]->webhook_id, $failing, true)) {
                    $this->release($some);
                    continue;
                }
                // An address that does not answer holds up nothing but itself: the rest of what it is told waits.
                if (! $this->tell($some, CarbonImmutable::now('UTC')) && $some[0]->webhook_id !== null) {
                    $failing[] = $some[0]->webhook_id;
                }
            }
        } while ($claimed->count() === self::AT_ONCE && (hrtime(true) - $began) / 1e9 < self::SECONDS);
    }

    /**
     * @param list<int> $failing webhooks that are not called in this round any more
     *
     * @return Collection<int, Delivery>
     */
    private function claim(CarbonImmutable $now, array $failing): Collection
    {
        return DB::transaction(static function () use ($now, $failing): Collection {
            $at = $now->format('Y-m-d H:i:s.v');
            // Mails first: they take no time.
            $ids = DB::table('deliveries')->where('state', DeliveryState::Waiting->value)->where('next_at', '<=', $at)
                ->where(static fn ($free) => $free->whereNull('claimed_until')->orWhere('claimed_until', '<', $at))
                ->when($failing !== [], static fn ($query) => $query->where(static fn ($other) => $other->whereNull('webhook_id')->orWhereNotIn('webhook_id', $failing)))
                ->orderByRaw('webhook_id is not null')->orderBy('next_at')->orderBy('id')->limit(self::AT_ONCE)->lock('for update skip locked')->pluck('id')->all();
            DB::table('deliveries')->whereIn('id', $ids)->update(['claimed_until' => $now->addSeconds(self::LEASE)->format('Y-m-d H:i:s.v')]);

            return Delivery::query()->whereIn('id', $ids)->with(['site', 'notice.experiment', 'user', 'webhook.site'])->orderByRaw('webhook_id is not null')->orderBy('id')->get();
        });
    }

    /**
     * @param Collection<int, Delivery> $claimed
     *
     * @return iterable<non-empty-list<Delivery>> those that go in one mail, and each call alone
     */
    private function together(Collection $claimed): iterable
    {
        /** @var array<string, non-empty-list<Delivery>> $groups */
        $groups = [];
        foreach ($claimed as $one) {
            $groups[$one->kind === 'trouble' && $one->user_id !== null ? "{$one->user_id} {$one->site_id}" : "one {$one->id}"][] = $one;
        }

        return $groups;
    }

    /** @param non-empty-list<Delivery> $some of one kind, to one person or address. @return bool false where it failed */
    private function tell(array $some, CarbonImmutable $now): bool
    {
        // All of them go to one and the same.
        $settings = $some[0]->user === null ? null : Settings::of($some[0]->site, $some[0]->user);
        $wanted = array_values(array_filter($some, static fn (Delivery $one): bool => self::isWanted($one, $settings)));
        $this->set(array_filter($some, fn (Delivery $one): bool => ! in_array($one, $wanted, true)), ['state' => DeliveryState::Dropped, 'next_at' => null, 'claimed_until' => null, 'said' => 'Nobody wants it any more: what is told, or who looks after the site, has changed.']);
        if ($wanted === []) {
            return true;
        }
        [$first] = $wanted;
        $until = $first->kind === 'test' ? null : $settings?->quietUntil($first->site, $now);
        if ($until !== null) {
            $this->set($wanted, ['next_at' => $until, 'claimed_until' => null]);

            return true;
        }
        try {
            $status = $first->webhook === null ? $this->mail($wanted, $first->user) : $this->caller->call($first->webhook, $first);
            $this->set($wanted, ['state' => DeliveryState::Sent, 'next_at' => null, 'claimed_until' => null, 'tried_at' => $now, 'said' => null, 'status' => $status], 1);

            return true;
        } catch (\Throwable $e) {
            $e instanceof NotDelivered || report($e);
            $this->failed($wanted, $e, $now);

            return false;
        }
    }

    /** @param Settings|null $settings of the person; null for an address */
    private static function isWanted(Delivery $one, ?Settings $settings): bool
    {
        if ($one->kind === 'test') {
            return true;
        }
        $severity = $one->notice === null ? null : Severity::from($one->notice->severity);
        if ($one->webhook !== null) {
            return $one->webhook->active && ($severity === null ? $one->webhook->digest : $one->webhook->wish->includes($severity));
        }

        return $settings !== null && ($severity === null ? $settings->digest : $settings->wish->includes($severity));
    }

    /** @param non-empty-list<Delivery> $some */
    private function mail(array $some, ?User $person): null
    {
        [$first] = $some;
        $person ?? throw new NotDelivered('The person is not there any more.', isFinal: true);
        $mail = match ($first->kind) {
            'trouble' => new TroublesMail($first->site, array_values(array_filter(array_map(static fn (Delivery $one): ?Notice => $one->notice, $some)))),
            'digest' => new DigestMail($first->site, $first->content ?? []),
            'test' => new TestMail($first->site),
        };
        $this->mailer->to($person)->send($mail);

        return null;
    }

    /** @param non-empty-list<Delivery> $some */
    private function failed(array $some, \Throwable $e, CarbonImmutable $now): void
    {
        $said = mb_strcut(mb_scrub($e instanceof NotDelivered ? $e->getMessage() : 'The mail server did not take it.', 'UTF-8'), 0, 300, 'UTF-8');
        foreach ($some as $one) {
            $wait = $e instanceof NotDelivered && $e->isFinal ? null : Retries::after($one->tries + 1);
            $this->set([$one], [
                'state' => $wait === null ? DeliveryState::GivenUp : DeliveryState::Waiting, 'next_at' => $wait === null ? null : $now->addSeconds($wait), 'claimed_until' => null,
                'tried_at' => $now, 'said' => $said, 'status' => $e instanceof NotDelivered ? $e->status : null,
            ], 1);
        }
    }

    /** @param non-empty-list<Delivery> $some */
    private function release(array $some): void
    {
        $this->set($some, ['claimed_until' => null]);
    }

    /**
     * @param array<Delivery>      $some
     * @param array<string, mixed> $columns
     */
    private function set(array $some, array $columns, int $tries = 0): void
    {
        foreach ($some as $one) {
            $one->update([...$columns, 'tries' => $one->tries + $tries]);
        }
    }
}
