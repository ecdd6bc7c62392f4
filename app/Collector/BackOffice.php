<?php

namespace App\Collector;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Database\Connection;
use Pellix\Core\Events\Origin;
use Pellix\Core\Formats\Moment;

/**
 * Takes events from a site's back office: fills in what only a browser would know, finds the visitor that a user is, and
 * gives orders ids that stay the same, so that one that is told twice is one event.
 */
final readonly class BackOffice
{
    /** What stands for a user agent where no browser sent the event. */
    public const AGENT = 'server';

    /** What the ids begin with that are made from an order's number. */
    public const ORDER_ID = 'order-';

    public function __construct(private Connection $db)
    {
    }

    /** @param list<mixed> $events */
    public function take(Site $site, array $events, CarbonImmutable $now): Answer
    {
        $visitors = $this->visitors($site, $events);
        $filled = array_map(static fn (mixed $one): mixed => is_array($one) ? self::filled($one, $site, $visitors, $now) : $one, $events);
        $body = json_encode(['pellix' => 1, 'site' => $site->key, 'events' => $filled], JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE | JSON_UNESCAPED_SLASHES);

        return (new Collector($this->db->getPdo()))->take($body, self::AGENT, $now, Origin::Server);
    }

    /**
     * @param list<mixed> $events
     *
     * @return array<string, string> user, with a mark before it => the visitor that was last seen as that user
     */
    private function visitors(Site $site, array $events): array
    {
        $visitors = [];
        foreach ($events as $event) {
            $user = is_array($event) ? $event['user'] ?? null : null;
            if (is_string($user) && ! isset($event['visitor']) && ! array_key_exists("#{$user}", $visitors)) {
                $visitors["#{$user}"] = $this->db->table('events')->where('site_id', $site->id)->where('user', $user)->orderByDesc('time')->value('visitor');
            }
        }

        return array_filter($visitors, is_string(...));
    }

    /**
     * @param array<mixed>          $event
     * @param array<string, string> $visitors user, with a mark before it => the visitor that was last seen as that user
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
            'id' => self::id($event['id'] ?? ($order === null || $order === '' ? null : self::orderId($name, $order))),
            'visitor' => $event['visitor'] ?? ($user === null ? null : $visitors["#{$user}"] ?? 'user-'.hash('xxh128', $user)),
            'time' => $event['time'] ?? Moment::format($now),
            'url' => $event['url'] ?? "https://{$site->hosts[0]}/",
            'props' => (object) [...$props, 'via' => 'server'],
        ];
    }

    /** Nobody else can write an id of this name space: so nobody can claim an order beforehand. */
    private static function id(mixed $id): mixed
    {
        return is_string($id) && $id !== '' ? Origin::Server->id($id) : $id;
    }

    /** The id of the event that an order is, whoever tells of it. */
    public static function orderId(string $name, string $order): string
    {
        return self::ORDER_ID.hash('xxh128', "{$name} {$order}");
    }
}
