<?php

declare(strict_types=1);

namespace App\Audits;

/** A stored event, as an audit reads it. */
final class StoredRow
{
    /** Whoever has more events is cut off by the audit anyway. */
    public const MOST_EVENTS = 30_000;

    public const COLUMNS = 'event_id, visitor, user, time, received, name, url, referrer, agent, props, device, browser, source, country';

    public const VISITOR = 1;
    public const TIME = 3;
    public const RECEIVED = 4;

    /**
     * @param list<string|null> $row the columns, in their order
     *
     * @return array<string, mixed> in the form of an event log
     */
    public static function event(array $row): array
    {
        [$id, $visitor, $user, $time, $received, $name, $url, $referrer, $agent, $json] = $row;
        $props = $json === '{}' ? [] : (array) json_decode((string) $json, true, 64);
        foreach (['device' => 10, 'browser' => 11, 'source' => 12, 'country' => 13] as $segment => $place) {
            if ($row[$place] !== null) {
                $props[$segment] = $row[$place];
            }
        }
        $time[10] = $received[10] = 'T';

        return ['id' => $id, 'visitor' => $visitor, 'user' => $user, 'time' => "{$time}Z", 'received' => "{$received}Z", 'name' => $name, 'url' => $url, 'referrer' => $referrer, 'agent' => $agent, 'props' => $props];
    }
}
