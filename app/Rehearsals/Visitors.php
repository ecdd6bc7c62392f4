<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Rehearsals\Browser\Chromium;
use App\Rehearsals\Browser\Tab;
use Closure;
use Pellix\Core\Happenings\Kind;
use Pellix\Core\Rehearsal\Guest;
use Pellix\Core\Rehearsal\Screen;

/** Makes the visitors of a rehearsal: each with an id that leads to the variant that is wanted, and with requests that carry its mark. */
final readonly class Visitors
{
    private const ID = 'abcdefghijklmnopqrstuvwxyz0123456789';

    public function __construct(private Stage $stage)
    {
    }

    /**
     * A new visitor who will be assigned to a variant: what decides is the id, as with everybody else.
     *
     * @param string|null $variant null for one who comes without an id
     * @param Closure(string): (array{string, array<string, mixed>}|null)|null $file what is done with the request for the site's file
     * @param Guest|null  $guest   whom they are to be like; null for somebody of the audience
     */
    public function make(?string $variant, Screen $screen, ?Closure $file = null, ?Guest $guest = null): Visitor
    {
        $guest ??= $this->stage->guest;
        $tab = $this->stage->chromium->visitor($screen);
        $id = $variant === null ? null : $this->stage->id($variant);
        if ($id !== null && $this->stage->experiment->unit === 'user') {
            // Somebody who is signed in: what decides is who they are.
            $tab->execute('Page.addScriptToEvaluateOnNewDocument', ['source' => 'window.pellix = window.pellix || function () { window.pellix.waiting.push(arguments) }; window.pellix.waiting = window.pellix.waiting || []; window.pellix("user", '.json_encode($id, JSON_THROW_ON_ERROR).');']);
            $id = self::anyId();
        }
        $id === null || $this->give($tab, 'plx_visitor', $id);
        $this->agree($tab);
        $guest === null || (new Guests($this->stage))->dress($tab, $guest);
        $this->connect($tab, $file);

        return new Visitor($tab, $id, (string) $variant);
    }

    /** Empties a page's visitor, as if nobody had been here, for a load with the snippet or without it. */
    public function empty(Tab $tab, bool $withSnippet): void
    {
        $tab->go('about:blank');
        $tab->execute('Network.clearBrowserCache');
        $tab->execute('Storage.clearDataForOrigin', ['origin' => $this->stage->origin(), 'storageTypes' => 'all']);
        $tab->execute('Network.setBlockedURLs', ['urls' => $withSnippet ? [] : $this->patterns()]);
        $tab->attend(0.05);
        $tab->watch->forget();
    }

    /** Opens the page as the visitor who was made does. */
    public function open(Visitor $visitor, ?Guest $guest = null): void
    {
        $guest ??= $this->stage->guest;
        $host = $guest->made['referrer.host'] ?? null;
        $visitor->tab->go($guest->url ?? $this->stage->page(), is_string($host) ? "https://{$host}/" : null);
    }

    /** Does whatever starts the experiment on the page, where that is not the page view itself. */
    public function setOff(Tab $tab): void
    {
        $trigger = $this->stage->experiment->trigger;
        if ($trigger === null) {
            return;
        }
        $selector = json_encode($trigger->selector, JSON_THROW_ON_ERROR);
        $name = json_encode($trigger->event, JSON_THROW_ON_ERROR);
        match ($trigger->kind) {
            Kind::Click, Kind::AnyClick => $tab->evaluate("document.querySelector({$selector} ?? 'body')?.dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true, view: window }))"),
            Kind::Form => $tab->evaluate("document.querySelector({$selector})?.dispatchEvent(new SubmitEvent('submit', { bubbles: true, cancelable: true }))"),
            Kind::Event => $tab->evaluate("window.pellix && window.pellix('event', {$name}, {})"),
            Kind::Scroll => $tab->evaluate('window.scrollTo(0, document.documentElement.scrollHeight)'),
            Kind::Time => $tab->attend(min(10.0, (float) $trigger->amount + 0.5)),
            default => null,
        };
        $tab->attend(0.2);
    }

    /** A browser with a profile of its own, which the next one goes on with. */
    public function lastingBrowser(): Chromium
    {
        return $this->stage->chromium->beside('lasting');
    }

    /** @param Closure(string): (array{string, array<string, mixed>}|null)|null $file */
    public function connect(Tab $tab, ?Closure $file = null): void
    {
        $patterns = [['urlPattern' => "{$this->stage->pellix}/c*"], ['urlPattern' => "{$this->stage->pellix}/p.gif*"]];
        if ($file !== null || $this->stage->file !== null) {
            array_push($patterns, ...array_map(static fn (string $one): array => ['urlPattern' => $one], $this->patterns()));
        }
        $tab->guard($patterns, function (array $paused) use ($file): ?array {
            $url = (string) $paused['request']['url'];
            if (array_any($this->stage->files, static fn (string $one): bool => str_contains((string) parse_url($url, PHP_URL_PATH), $one))) {
                return ($file === null ? null : $file((string) $paused['requestId'])) ?? $this->ownFile();
            }

            return str_starts_with($url, "{$this->stage->pellix}/") ? ['Fetch.continueRequest', ['url' => $url.(str_contains($url, '?') ? '&' : '?').'rehearsal='.$this->stage->mark]] : null;
        });
    }

    /** @return list<string> what the addresses of the site's file look like */
    private function patterns(): array
    {
        return array_map(static fn (string $one): string => "*{$one}*", $this->stage->files);
    }

    /** @return array{string, array<string, mixed>}|null the site's file as it would be with the experiment, where that is not published yet */
    public function ownFile(): ?array
    {
        return $this->stage->file === null ? null : ['Fetch.fulfillRequest', [
            'responseCode' => 200,
            'responseHeaders' => [['name' => 'Content-Type', 'value' => 'text/javascript'], ['name' => 'Access-Control-Allow-Origin', 'value' => '*'], ['name' => 'Cache-Control', 'value' => 'no-cache']],
            'body' => base64_encode($this->stage->file),
        ]];
    }

    /** Of a site that asks, somebody who has agreed: whether anything there lets them is a question by itself. */
    public function agree(Tab $tab): void
    {
        $this->stage->site->settings()->asksConsent && $this->give($tab, 'plx_consent', 'statistics.marketing');
    }

    /** Takes a cookie of ours away again. */
    public function takeAway(Tab $tab, string $name): void
    {
        $tab->execute('Network.deleteCookies', ['name' => $name, 'url' => $this->stage->page()]);
        $this->stage->cookieDomain() === null || $tab->execute('Network.deleteCookies', ['name' => $name, 'domain' => $this->stage->cookieDomain()]);
    }

    public function give(Tab $tab, string $name, string $value): void
    {
        $tab->setCookie($name, $value, $this->stage->page(), $this->stage->cookieDomain(), $this->stage->site->cookie_days * 86_400);
    }

    public static function anyId(): string
    {
        $id = '';
        foreach (str_split(random_bytes(26)) as $byte) {
            $id .= self::ID[ord($byte) % 36];
        }

        return $id;
    }

    /** Six letters that nobody else types. */
    public static function anyMark(): string
    {
        return implode('', array_map(static fn (string $byte): string => chr(ord('a') + ord($byte) % 26), str_split(random_bytes(6))));
    }
}
