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
use Pellix\Core\Wiring\Findings\Severity;

/** Notes what is to be told to whom; each thing once to each, whoever notes it and however often. */
final readonly class Deliveries
{
    /** Of a new trouble, to everybody who wants to hear of it. Within the transaction that notes the trouble. */
    public function ofTrouble(Site $site, Notice $notice, CarbonImmutable $now): void
    {
        $severity = Severity::from($notice->severity);
        $rows = [];
        foreach (Settings::ofAll($site) as [$person, $settings]) {
            if ($settings->wish->includes($severity)) {
                $rows[] = ['mark' => "trouble {$notice->id} person {$person->id}", 'user_id' => $person->id, 'webhook_id' => null, 'next_at' => $settings->quietUntil($site, $now) ?? $now];
            }
        }
        foreach ($this->webhooks($site) as $webhook) {
            if ($webhook->wish->includes($severity)) {
                $rows[] = ['mark' => "trouble {$notice->id} webhook {$webhook->id}", 'user_id' => null, 'webhook_id' => $webhook->id, 'next_at' => $now];
            }
        }
        $this->note($site, array_map(static fn (array $row): array => [...$row, 'kind' => 'trouble', 'notice_id' => $notice->id, 'content' => null], $rows), $now);
    }

    /** @param array<string, mixed> $content see `Digests` */
    public function ofWeek(Site $site, Week $week, array $content, CarbonImmutable $now): void
    {
        $rows = [];
        foreach (Settings::ofAll($site) as [$person, $settings]) {
            if ($settings->digest) {
                $rows[] = ['mark' => "digest {$site->id} {$week->name()} person {$person->id}", 'user_id' => $person->id, 'webhook_id' => null, 'next_at' => $settings->quietUntil($site, $now) ?? $now];
            }
        }
        foreach ($this->webhooks($site) as $webhook) {
            if ($webhook->digest) {
                $rows[] = ['mark' => "digest {$site->id} {$week->name()} webhook {$webhook->id}", 'user_id' => null, 'webhook_id' => $webhook->id, 'next_at' => $now];
            }
        }
        $json = json_encode($content, JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE);
        $this->note($site, array_map(static fn (array $row): array => [...$row, 'kind' => 'digest', 'notice_id' => null, 'content' => $json], $rows), $now);
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

    /** @return iterable<Webhook> */
    private function webhooks(Site $site): iterable
    {
        return Webhook::query()->where('site_id', $site->id)->where('active', true)->orderBy('id')->get();
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
