<?php

declare(strict_types=1);

namespace Demo\Practice;

use Pellix\Core\Wiring\Guard;
use Pellix\Core\Wiring\Snippet;

/**
 * The practice room: pages of an invented workshop programme, each with one fault that only a browser can find, and sound ones
 * that look much the same. The demo serves them at NAME on a host of their own, with what lies behind them.
 */
final class Room
{
    public const SITE_KEY = 'plx_larkhollowstage1';

    public const HOST = 'practice.larkhollow.localhost';

    /** The same house with another door: here nothing is kept before the visitor has agreed. */
    public const ASKING_KEY = 'plx_larkhollowasks01';

    public const ASKING_HOST = 'members.larkhollow.localhost';

    private const RESERVE = <<<'JS'
        document.getElementById('reserve')?.addEventListener('click', function () {
            pellix('event', 'chair_reserved', { price: 12, currency: 'EUR' });
        });
        JS;

    /** The page's content where it is no other. */
    private const CONTENT = <<<'HTML'
        <p class="note">Saturdays, ten to one</p>
        <h1 class="heading" id="title">Learn to mend a bow</h1>
        <p class="lead" id="offer">Four chairs, one bench, and everything that a bow needs.</p>
        <p id="action"><button class="button" id="reserve" type="button">Reserve a chair</button></p>
        <p>Bring the bow that you play with. Hair and rosin are here.</p>
        HTML;

    /** @return array<string, array{content?: string, script?: string, style?: string, guard?: bool, snippet?: 'head'|'end', headers?: list<string>}> name => what is different from a sound page */
    private static function faulty(): array
    {
        return [
            'outranked' => ['style' => "main p.lead { color: #4a5568 !important }\n.lead { line-height: 1.6 }"],
            'replaced' => ['script' => self::RESERVE."\nsetTimeout(function renewOffer() {\n    var fresh = document.createElement('p');\n    fresh.className = 'lead';\n    fresh.textContent = 'Four chairs, one bench.';\n    document.getElementById('offer').replaceWith(fresh);\n}, 800);"],
            'covered' => ['content' => self::CONTENT.'<aside class="closing">We are closed for stocktaking until Thursday.</aside>', 'style' => '.closing { position: fixed; inset: 15% 0; z-index: 20; background: #f6f5f0; padding: 3rem; pointer-events: none }'],
            'untagged' => [],
            'sound-styled' => ['style' => '.glad { outline: 2px solid #4f7a28 }'],
            'twice' => ['script' => self::RESERVE."\nsetTimeout(function () { document.getElementById('reserve').addEventListener('click', function () { setTimeout(function () { pellix('event', 'chair_reserved', { price: 12, currency: 'EUR' }); }, 40); }); });"],
            'comma' => ['script' => str_replace('12,', "'12,50',", self::RESERVE)],
            'policy' => ['headers' => ["Content-Security-Policy: script-src 'self'; style-src 'self' 'unsafe-inline'"]],
            'forgetful' => ['script' => self::RESERVE."\naddEventListener('load', function tidyCookies() {\n    document.cookie.split('; ').forEach(function (cookie) {\n        document.cookie = cookie.split('=')[0] + '=; Max-Age=0; Path=/';\n    });\n});"],
            'unguarded' => ['guard' => false, 'snippet' => 'end'],
            'throwing' => [],
            'telling' => ['content' => str_replace('<button class="button" id="reserve" type="button">Reserve a chair</button>', '<form action="/telling/thanks" id="seat"><label>E-mail <input name="mail" type="email" required></label> <button class="button" id="reserve">Reserve a chair</button></form>', self::CONTENT), 'script' => ''],
        ];
    }

    /** @return array<string, array{content?: string, script?: string, style?: string, guard?: bool, snippet?: 'head'|'end', headers?: list<string>}> pages that do to a browser what no page should */
    private static function hazards(): array
    {
        $bad = static fn (string $script): array => ['script' => $script];

        return [
            'hanging' => $bad("addEventListener('load', function () { for (;;) {} });"),
            'alerting' => $bad("alert('The shop closes at six.');\n".self::RESERVE),
            'holding' => $bad(self::RESERVE."\naddEventListener('beforeunload', function (event) { event.preventDefault(); event.returnValue = 'stay'; });"),
            'asking' => $bad(self::RESERVE."\nNotification.requestPermission();\nnavigator.geolocation.getCurrentPosition(function () {});"),
            'opening' => $bad(self::RESERVE."\nfor (var i = 0; i < 50; i++) { open('/sound?n=' + i, '_blank', 'width=200,height=200'); }"),
            'wandering' => $bad("location.replace('/hazard/wandering?n=' + Math.random());"),
        ];
    }

    /** Where a page sends whoever asks for it, if it does. */
    public static function leads(string $path, string $query): ?string
    {
        return match ($path) {
            // The server in between forgets what a visitor brought along.
            '/lamplight' => '/lamplight-evening',
            '/back-room' => '/circle'.($query === '' ? '' : "?{$query}"),
            '/hazard/endless' => '/hazard/endless?n='.random_int(0, 999_999),
            default => null,
        };
    }

    /**
     * @param string $origin where Pellix is
     *
     * @return array{list<string>, string}|null headers and page; null where there is none
     */
    public static function page(string $path, string $key, string $origin): ?array
    {
        $name = trim($path, '/');
        $hazard = str_starts_with($name, 'hazard/') ? substr($name, 7) : null;
        if ($hazard === 'download') {
            return [['Content-Type: application/octet-stream', 'Content-Disposition: attachment; filename="chairs.bin"'], str_repeat('x', 1000)];
        }
        if ($hazard === 'large') {
            return [['Content-Type: text/html; charset=utf-8'], self::html($key, $origin, ['content' => self::CONTENT.str_repeat('<p>'.str_repeat('rosin ', 1600).'</p>', 5000)])];
        }
        $own = match (true) {
            $hazard !== null => self::hazards()[$hazard] ?? null,
            isset(self::faulty()[$name]) => self::faulty()[$name],
            in_array($name, ['sound', 'circle', 'lamplight-evening', 'sound-redirect', 'sound-target', 'sound-phone'], true) => [],
            str_ends_with($name, '/thanks') => ['content' => '<h1 class="heading">Your chair is kept</h1><p class="lead">Until a quarter past ten.</p>', 'script' => ''],
            $name === 'agreed' => ['content' => self::CONTENT.'<div id="ask"><p>May we count visits?</p><button id="agree" type="button" class="button">I agree</button> <button id="refuse" type="button">No</button></div>', 'script' => self::RESERVE."\ndocument.getElementById('agree').addEventListener('click', function () { pellix('consent', ['statistics']); document.getElementById('ask').remove(); });"],
            $name === 'unasked' => ['content' => self::CONTENT.'<div id="ask"><p>We count visits.</p><button id="agree" type="button" class="button">OK</button></div>', 'script' => self::RESERVE."\ndocument.getElementById('agree').addEventListener('click', function () { document.getElementById('ask').remove(); });"],
            default => null,
        };

        return $own === null ? null : [['Content-Type: text/html; charset=utf-8', ...$own['headers'] ?? []], self::html($key, $origin, $own)];
    }

    /** @param array{content?: string, script?: string, style?: string, guard?: bool, snippet?: 'head'|'end', headers?: list<string>} $own */
    private static function html(string $key, string $origin, array $own): string
    {
        $content = $own['content'] ?? self::CONTENT;
        $snippet = Snippet::loader($key, $origin);
        $guard = ($own['guard'] ?? true) ? Guard::text() : '';
        [$head, $end] = ($own['snippet'] ?? 'head') === 'head' ? ["{$guard}\n{$snippet}", ''] : [$guard, "<script src=\"/slow.js\"></script>\n{$snippet}"];
        $style = isset($own['style']) ? "<style>\n{$own['style']}\n</style>" : '';
        $script = $own['script'] ?? self::RESERVE;

        return <<<HTML
            <!DOCTYPE html>
            <html lang="en">
            <head>
            <meta charset="utf-8">
            {$head}
            <meta name="viewport" content="width=device-width, initial-scale=1">
            <title>Practice room</title>
            <link rel="stylesheet" href="/larkhollow.css">
            {$style}
            </head>
            <body>
            <main>
            {$content}
            </main>
            <script>
            {$script}
            </script>
            {$end}
            </body>
            </html>
            HTML;
    }
}
