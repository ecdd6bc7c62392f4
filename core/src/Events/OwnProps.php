<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

/** Properties whose meaning is fixed by the event log's format. */
final class OwnProps
{
    /**
     * The key of an experiment or a variant; null where there is none, or where it could be none.
     *
     * @param array<string, mixed>  $props
     * @param 'experiment'|'variant' $name
     */
    public static function key(array $props, string $name): ?string
    {
        $value = $props[$name] ?? null;

        return is_string($value) && preg_match('/\A[a-z0-9][a-z0-9_-]{0,59}\z/', $value) === 1 ? $value : null;
    }
}
