<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/** Whether two pieces of decoded JSON say the same: members in any order, 1 and 1.0 the same number, and "1" and "01" two texts. */
final class Same
{
    public static function json(mixed $one, mixed $other): bool
    {
        if (is_array($one) && is_array($other)) {
            if (count($one) !== count($other)) {
                return false;
            }
            foreach ($one as $key => $value) {
                if (! array_key_exists($key, $other) || ! self::json($value, $other[$key])) {
                    return false;
                }
            }

            return true;
        }
        if ((is_int($one) || is_float($one)) && (is_int($other) || is_float($other))) {
            return (float) $one === (float) $other;
        }

        return $one === $other;
    }
}
