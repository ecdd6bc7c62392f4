<?php

declare(strict_types=1);

namespace App\Experiments;

/** A list of changes while it is being written: of the right shape, and not yet right. */
final class WrittenChanges
{
    public const MOST = 100;

    /** @return array<string, list<string>> what it has to look like before it is read */
    public static function rules(string $at): array
    {
        return [
            $at => ['nullable', 'array', 'list', 'max:'.self::MOST],
            "{$at}.*" => ['array'],
            "{$at}.*.kind" => ['required', 'string', 'max:20'],
            "{$at}.*.off" => ['nullable', 'boolean'],
            "{$at}.*.value" => ['nullable', 'string', 'max:50000'],
            "{$at}.*.selector" => ['nullable', 'string', 'max:2000'],
            "{$at}.*.to" => ['nullable', 'string', 'max:2000'],
            "{$at}.*.media" => ['nullable', 'string', 'max:500'],
            "{$at}.*.add" => ['nullable', 'array', 'list', 'max:50'],
            "{$at}.*.remove" => ['nullable', 'array', 'list', 'max:50'],
            "{$at}.*.add.*" => ['nullable', 'string', 'max:200'],
            "{$at}.*.remove.*" => ['nullable', 'string', 'max:200'],
        ];
    }
}
