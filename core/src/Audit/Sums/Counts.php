<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

/** Numbers by their keys, at any depth, to which others are added, or of which others are taken away again. */
final class Counts
{
    /** To add others, and to take away what was added before. */
    public const PLUS = 1;
    public const MINUS = -1;

    /**
     * What is taken away where nothing is known of it stays away: it belonged to something rare that was let go of. What comes to
     * nothing is gone, as if it had never been counted.
     *
     * @template T of array<array-key, mixed>
     *
     * @param T   $to   numbers, or lists of numbers, by their keys
     * @param T   $more of the same shape
     * @param int $sign `PLUS` or `MINUS`
     *
     * @return T
     */
    public static function sum(array $to, array $more, int $sign): array
    {
        /** @var T $sum of what has the same shape */
        $sum = self::joined($to, $more, $sign);

        return $sum;
    }

    /**
     * @param array<mixed> $to
     * @param array<mixed> $more
     *
     * @return array<mixed>
     */
    private static function joined(array $to, array $more, int $sign): array
    {
        foreach ($more as $key => $number) {
            $own = $to[$key] ?? null;
            if (is_array($number) && ($own !== null || $sign === self::PLUS)) {
                $to[$key] = self::joined(is_array($own) ? $own : [], $number, $sign);
            } elseif (is_int($number) && ($own !== null || $sign === self::PLUS)) {
                $to[$key] = (is_int($own) ? $own : 0) + $sign * $number;
            }
            if ($sign === self::MINUS && ($own === null || $to[$key] === [] || $to[$key] <= 0)) {
                unset($to[$key]);
            }
        }

        return $to;
    }
}
