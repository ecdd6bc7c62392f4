<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

/** Whether an event has personal data in its address or its properties. What it says is looked at here, and kept nowhere. */
final class Personal
{
    /** @param array<mixed> $props */
    public static function isIn(string $url, array $props): bool
    {
        return (str_contains($url, '@') || str_contains($url, '%') || self::mayHave($props)) && self::has($url, $props);
    }

    /** @param array<mixed> $props */
    private static function mayHave(array $props): bool
    {
        foreach ($props as $value) {
            if (is_string($value) ? strpbrk($value, '@+') !== false : is_array($value)) {
                return true;
            }
        }

        return false;
    }

    /**
     * Addresses of e-mail (RFC 5322, 3.4.1, as they are mostly written) and telephone numbers (E.164 with its plus).
     *
     * @param array<mixed> $props
     */
    private static function has(string $url, array $props): bool
    {
        $text = str_contains($url, '@') || str_contains($url, '%40') || str_contains($url, '%2B') ? rawurldecode($url) : '';
        foreach ($props as $value) {
            if (is_string($value) && (str_contains($value, '@') || str_contains($value, '+'))) {
                $text .= " {$value}";
            } elseif (is_array($value)) {
                $text .= ' '.json_encode($value, JSON_PARTIAL_OUTPUT_ON_ERROR | JSON_UNESCAPED_SLASHES, 8);
            }
        }

        return $text !== '' && preg_match('/[A-Za-z0-9._+-]{1,64}@[A-Za-z0-9-]{1,63}(?:\.[A-Za-z0-9-]{1,63})*\.[A-Za-z]{2,24}\b|(?<![\w+])\+[1-9]\d{1,2}[ ()\/-]{0,2}\d(?:[ ()\/-]?\d){6,11}(?!\d)/', substr($text, 0, 8000)) === 1;
    }
}
