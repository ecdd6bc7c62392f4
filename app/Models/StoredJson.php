<?php

namespace App\Models;

use Illuminate\Contracts\Database\Eloquent\CastsAttributes;
use Illuminate\Database\Eloquent\Model;

/**
 * An object or a list that is kept as JSON. Whatever else stands in the column, by whatever mishap, reads as an empty one, which
 * then says at its own place what is missing.
 *
 * @implements CastsAttributes<array<mixed>, mixed>
 */
final class StoredJson implements CastsAttributes
{
    /** @return array<mixed>|null */
    public function get(Model $model, string $key, mixed $value, array $attributes): ?array
    {
        if ($value === null) {
            return null;
        }
        $json = json_decode((string) $value, true);

        return is_array($json) ? $json : [];
    }

    public function set(Model $model, string $key, mixed $value, array $attributes): ?string
    {
        return $value === null ? null : json_encode($value, JSON_THROW_ON_ERROR);
    }
}
