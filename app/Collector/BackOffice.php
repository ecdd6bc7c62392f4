<?php

namespace App\Collector;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Database\ConnectionInterface;
use Pellix\Core\Formats\Moment;

/**
 * Takes events from a site's back office: fills in what only a browser would know, finds the visitor that a user is, and
 * gives orders ids that stay the same, so that one that is told twice is one event.
 */
final readonly class BackOffice
{
    public function __construct(private ConnectionInterface $db)
    {
    }

    /** @param list<mixed> $events */
    public function take(Site $site, array $events, CarbonImmutable $now): Answer
    {
        $users = array_values(array_unique(array_filter(array_map(static fn (mixed $one): mixed => is_array($one) ? $one['user'] ?? null : null, $events), is_string(...))));
        $visitors = $users === [] ? [] : $this->db->table('events')->where('site_id', $site->id)->whereIn('user', $users)->orderBy('id')->pluck('visitor', 'user')->all();
        $filled = array_map(static fn (mixed $one): mixed => is_array($one) ? self::filled($one, $site, $visitors, $now) : $one, $events);
        $body = json_encode(['pellix' => 1, 'site' => $site->key, 'events' => $filled], JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE | JSON_UNESCAPED_SLASHES);

        return (new Collector($this->db))->take($body, 'server', $now);
    }

    /**
     * @param array<mixed>          $event
     * @param array<string, string> $visitors user => the visitor that was last seen as that user
     *
     * @return array<mixed>
     */
    private static function filled(array $event, Site $site, array $visitors, CarbonImmutable $now): array
    {
        $props = is_array($event['props'] ?? null) ? $event['props'] : [];
        $order = is_scalar($props['order_id'] ?? null) ? (string) $props['order_id'] : null;
        $name = is_string($event['name'] ?? null) ? $event['name'] : '';
        $user = is_string($event['user'] ?? null) ? $event['user'] : null;

        return [
            ...$event,
            'id' => $event['id'] ?? ($order === null ? null : self::orderId($name, $order)),
            'visitor' => $event['visitor'] ?? ($user === null ? null : $visitors[$user] ?? 'user-'.hash('xxh128', $user)),
            'time' => $event['time'] ?? Moment::format($now),
            'url' => $event['url'] ?? "https://{$site->hosts[0]}/",
            'props' => (object) [...$props, 'via' => 'server'],
        ];
    }

    /** The id of the event that an order is, whoever tells of it. */
    public static function orderId(string $name, string $order): string
    {
        return 'order-'.hash('xxh128', "{$name} {$order}");
    }
}
