<?php

declare(strict_types=1);

namespace App\Notices;

use App\Models\Delivery;
use App\Models\Notice;
use App\Models\Site;
use App\Models\User;
use App\Models\Webhook;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Notices\DeliveryState;
use Pellix\Core\Notices\Week;
use Pellix\Core\Notices\Wish;
use Pellix\Core\Wiring\Findings\Severity;

/** Notes what is to be told to whom; each thing once to each, whoever notes it and however often. */
final readonly class Deliveries
{
    /** Of a new trouble, to everybody who wants to hear of it. Within the transaction that notes the trouble. */
    public function ofTrouble(Site $site, Notice $notice, CarbonImmutable $now): void
    {
        $severity = Severity::from($notice->severity);
        $this->toAll($site, "trouble {$notice->id}", ['kind' => 'trouble', 'notice_id' => $notice->id, 'content' => null], static fn (Settings|Webhook $who): bool => $who->wish->includes($severity), $now);
    }

    /** That an experiment is to be decided, or was: to everybody who wants to hear of anything. Within the transaction that notes it. */
    public function ofDecision(Site $site, Notice $notice, CarbonImmutable $now): void
    {
        $this->toAll($site, "decision {$notice->id}", ['kind' => 'trouble', 'notice_id' => $notice->id, 'content' => null], static fn (Settings|Webhook $who): bool => $who->wish !== Wish::Nothing, $now);
    }

    /** @param array<string, mixed> $content see `Digests` */
    public function ofWeek(Site $site, Week $week, array $content, CarbonImmutable $now): void
    {
        $json = json_encode($content, JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE);
        $this->toAll($site, "digest {$site->id} {$week->name()}", ['kind' => 'digest', 'notice_id' => null, 'content' => $json], static fn (Settings|Webhook $who): bool => $who->digest, $now);
    }

    /**
     * @param string                          $what   tells it from all else that is told
     * @param array<string, mixed>            $told
     * @param callable(Settings|Webhook): bool $wants
     */
    private function toAll(Site $site, string $what, array $told, callable $wants, CarbonImmutable $now): void
    {
        $rows = [];
        foreach (Settings::ofAll($site) as [$person, $settings]) {
            if ($wants($settings)) {
                $rows[] = [...$told, 'mark' => "{$what} person {$person->id}", 'user_id' => $person->id, 'webhook_id' => null, 'next_at' => $settings->quietUntil($site, $now) ?? $now];
            }
        }
        foreach (Webhook::query()->where('site_id', $site->id)->where('active', true)->orderBy('id')->get() as $webhook) {
            if ($wants($webhook)) {
                $rows[] = [...$told, 'mark' => "{$what} webhook {$webhook->id}", 'user_id' => null, 'webhook_id' => $webhook->id, 'next_at' => $now];
            }
        }
        $this->note($site, $rows, $now);
    }

    /** Tries the way to a person or an address, at once, quiet hours or not: somebody waits for it. */
    public function ofTest(Site $site, User|Webhook $to, CarbonImmutable $now): Delivery
    {
        $isPerson = $to instanceof User;
        $mark = 'test '.($isPerson ? 'person' : 'webhook')." {$to->id} ".bin2hex(random_bytes(8));
        $this->note($site, [['mark' => $mark, 'user_id' => $isPerson ? $to->id : null, 'webhook_id' => $isPerson ? null : $to->id, 'next_at' => $now, 'kind' => 'test', 'notice_id' => null, 'content' => null]], $now);

        return Delivery::query()->where('mark', $mark)->firstOrFail();
    }

    /** Tries again what was given up, from the beginning. */
    public function again(Delivery $delivery, CarbonImmutable $now): void
    {
        $delivery->update(['state' => DeliveryState::Waiting, 'tries' => 0, 'next_at' => $now, 'claimed_until' => null]);
        Deliver::dispatch();
    }

    /** @param list<array<string, mixed>> $rows */
    private function note(Site $site, array $rows, CarbonImmutable $now): void
    {
        foreach (array_chunk($rows, 100) as $some) {
            DB::table('deliveries')->insertOrIgnore(array_map(static fn (array $row): array => [
                ...$row, 'site_id' => $site->id, 'state' => DeliveryState::Waiting->value, 'at' => $now->format('Y-m-d H:i:s.v'), 'next_at' => $row['next_at']->format('Y-m-d H:i:s.v'),
            ], $some));
        }
        $rows === [] || Deliver::dispatch()->afterCommit();
    }
}
