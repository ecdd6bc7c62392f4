<?php

namespace App\Collector;

use Pellix\Core\Events\Origin;
use Pellix\Core\Formats\Moment;

/** Turns the address of an image pixel into a beacon with one event. */
final class Pixel
{
    /** Parameters that are fields of the event; all others are its properties. */
    private const FIELDS = ['site', 'name', 'visitor', 'user', 'url', 'id', 'rehearsal'];

    /**
     * @param array<mixed> $query    parameters of the address
     * @param string       $referrer the page that shows the image, where the browser tells
     * @param string       $random   a part of the ids that nobody gave
     */
    public static function beacon(array $query, string $referrer, \DateTimeImmutable $now, string $random): string
    {
        $text = static fn (string $name): string => is_string($query[$name] ?? null) ? $query[$name] : '';
        $props = array_filter(array_diff_key($query, array_flip(self::FIELDS)), is_string(...));
        // A number that is too large for one stays a text.
        if (isset($props['value']) && is_numeric($props['value']) && is_finite((float) $props['value'])) {
            $props['value'] = (float) $props['value'];
        }
        $order = $text('order_id');
        // A template that filled nothing in leaves its braces behind.
        $visitor = preg_match('/\A[^{}]{1,64}\z/', $text('visitor')) === 1 ? $text('visitor') : "pixel-{$random}";

        return json_encode([
            'pellix' => 1,
            'site' => $text('site'),
            'events' => [[
                // An order that is shown twice is one event.
                'id' => Origin::Pixel->id($text('id') ?: ($order === '' ? $random : BackOffice::orderId($text('name'), $order))),
                'visitor' => $visitor,
                'user' => $text('user') ?: null,
                'time' => Moment::format($now),
                'name' => $text('name') ?: 'pixel',
                'url' => $text('url') ?: $referrer,
                'props' => [...$props, 'via' => 'pixel'],
            ]],
        ], JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE);
    }
}
