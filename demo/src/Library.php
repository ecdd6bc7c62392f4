<?php

declare(strict_types=1);

namespace Demo;

/** The Larkhollow Instrument Library: an invented site with invented instruments, which stands in for somebody else's. */
final class Library
{
    public const SITE_KEY = 'plx_larkhollowdemo01';

    public const HOST = 'larkhollow.localhost';

    /** The booking desk, an application on a single page. */
    public const DESK_HOST = 'desk.larkhollow.localhost';

    /** A payment page that somebody else serves. */
    public const PAY_HOST = 'pay.larkhollow.localhost';

    /** slug => [name, kind, short description, months of waiting] */
    public const INSTRUMENTS = [
        'fennick-cello' => ['Fennick cello', 'Strings', 'A three-quarter cello with a dark, patient tone. Comes with a hard case and a spare bow.', 0],
        'harrow-flute' => ['Harrow flute', 'Woodwind', 'A silver-plated concert flute, overhauled last spring. Good for a first or a second instrument.', 0],
        'marl-accordion' => ['Marl accordion', 'Keys', 'Seventy-two basses and mended bellows. Loud enough for a kitchen full of people.', 1],
        'tolland-horn' => ['Tolland horn', 'Brass', 'A single horn in F, light to carry, with three mouthpieces to try.', 0],
        'quill-dulcimer' => ['Quill dulcimer', 'Strings', 'A hammered dulcimer on folding legs, tuned before each loan.', 2],
        'oster-drum' => ['Oster frame drum', 'Percussion', 'A deep frame drum with a goatskin head that likes dry rooms.', 0],
    ];

    /** @return list<string> the paths that the sitemap names */
    public static function listed(): array
    {
        return [
            '/', '/catalogue', ...array_map(static fn (string $slug): string => "/catalogue/{$slug}", array_keys(self::INSTRUMENTS)),
            '/loan', '/join', '/workshops', '/donate', '/about', '/hours', '/old-catalogue',
        ];
    }

    /** @return list<string> the paths of the pages that visitors go to */
    public static function paths(): array
    {
        return [
            '/', '/catalogue',
            ...array_map(static fn (string $slug): string => "/catalogue/{$slug}", array_keys(self::INSTRUMENTS)),
            '/loan', '/loan/details', '/loan/confirm', '/loan/done', '/join', '/join/done', '/workshops', '/donate', '/donate/thanks',
        ];
    }
}
