<?php

declare(strict_types=1);

namespace App\Loupe;

use App\Experiments\WrittenChanges;
use Illuminate\Support\Facades\Validator;
use Illuminate\Validation\ValidationException;

/** Two lists of changes, as the Loupe sends them. */
final class DraftShape
{
    public const MOST_CHANGES = WrittenChanges::MOST;

    /**
     * @param array<mixed> $asked
     *
     * @return array{list<array<string, mixed>>, list<array<string, mixed>>} base and mine
     *
     * @throws ValidationException
     */
    public static function of(array $asked): array
    {
        $given = array_intersect_key($asked, ['base' => 0, 'mine' => 0]);
        $list = ['present', 'array', 'list', 'max:'.self::MOST_CHANGES];
        Validator::make($given, [...WrittenChanges::rules('base'), ...WrittenChanges::rules('mine'), 'base' => $list, 'mine' => $list])->validate();

        return [$given['base'], $given['mine']];
    }
}
