<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

/** Whether an event has personal data in its address or its properties. What it says is looked at here, and kept nowhere. */
final class Personal
{
    public static function isInAddress(string $url): bool
    {
        return (str_contains($url, '@') || str_contains($url, '%40') || stripos($url, '%2b') !== false) && self::has(rawurldecode($url));
    }

    /** @param array<mixed> $props */
    public static function isInProps(array $props): bool
    {
        $text = '';
        foreach ($props as $value) {
            if (is_string($value)) {
                $text .= strpbrk($value, '@+') !== false ? " {$value}" : '';
            } elseif (is_array($value)) {
                $text .= ' '.json_encode($value, JSON_PARTIAL_OUTPUT_ON_ERROR | JSON_UNESCAPED_SLASHES, 8);
            }
        }

        return $text !== '' && self::has($text);
    }

    /**
     * Addresses of e-mail (RFC 5322, 3.4.1, as they are mostly written) and telephone numbers (E.164 with its plus).
     */
    private static function has(string $text): bool
    {
        return preg_match('/[A-Za-z0-9._+-]{1,64}@[A-Za-z0-9-]{1,63}(?:\.[A-Za-z0-9-]{1,63})*\.[A-Za-z]{2,24}\b|(?<![\w+])\+[1-9]\d{1,2}[ ()\/-]{0,2}\d(?:[ ()\/-]?\d){6,11}(?!\d)/', substr($text, 0, 8000)) === 1;
    }
}
