<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/** Values of a log as JSON on one line, to be put aside and read again. */
final class PlainJson
{
    private const FLAGS = JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION;

    /**
     * A number that is too large for one, such as 1e999, becomes a text: none that could be added up.
     *
     * @param array<mixed> $values
     */
    public static function of(array $values): string
    {
        $json = json_encode($values, self::FLAGS);
        if ($json === false) {
            array_walk_recursive($values, static function (mixed &$value): void {
                $value = is_float($value) && ! is_finite($value) ? 'no number' : $value;
            });
            $json = json_encode($values, self::FLAGS | JSON_THROW_ON_ERROR);
        }

        return $json;
    }
}
