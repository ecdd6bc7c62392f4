<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Rehearsals\Browser\Tab;
use Pellix\Core\Rehearsal\Guest;

/** Makes a browser window say of itself what a guest is to be. */
final readonly class Guests
{
    /** What browsers say of themselves, by the name that a rule asks for. */
    private const AGENTS = [
        'edge' => 'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36 Edg/140.0.0.0',
        'opera' => 'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36 OPR/124.0.0.0',
        'samsung' => 'Mozilla/5.0 (Linux; Android 10; K) AppleWebKit/537.36 (KHTML, like Gecko) SamsungBrowser/28.0 Chrome/130.0.0.0 Mobile Safari/537.36',
        'firefox' => 'Mozilla/5.0 (X11; Linux x86_64; rv:141.0) Gecko/20100101 Firefox/141.0',
        'safari' => 'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.5 Safari/605.1.15',
    ];

    public function __construct(private Stage $stage)
    {
    }

    public function dress(Tab $tab, Guest $guest): void
    {
        foreach ($guest->of('cookie.') as $name => $value) {
            $value === null || $this->stage->visitors->give($tab, $name, (string) $value);
        }
        $language = $guest->made['language'] ?? null;
        $browser = $guest->made['browser'] ?? null;
        if (is_string($language) || isset(self::AGENTS[$browser])) {
            $tab->sayOfItself(self::AGENTS[$browser] ?? null, is_string($language) ? $language : null);
        }
        $layer = $this->stage->site->data_layer;
        $data = array_filter($guest->of('data.'), static fn (mixed $value): bool => $value !== null);
        if ($data !== [] && is_string($layer) && $layer !== '') {
            $push = [];
            foreach ($data as $path => $value) {
                $place = &$push;
                foreach (explode('.', $path) as $name) {
                    $place = &$place[$name];
                }
                $place = $value;
                unset($place);
            }
            $json = json_encode($push, JSON_THROW_ON_ERROR | JSON_HEX_TAG);
            $name = json_encode($layer, JSON_THROW_ON_ERROR);
            $tab->execute('Page.addScriptToEvaluateOnNewDocument', ['source' => "(window[{$name}] = window[{$name}] || []).push({$json});"]);
        }
        // Whoever returns has been given an id; whoever is new has none.
        if (($guest->made['visitor.returning'] ?? null) === false) {
            $this->stage->visitors->takeAway($tab, 'plx_visitor');
        }
    }
}
