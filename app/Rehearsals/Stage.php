<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Collector\RehearsalMark;
use App\Models\Rehearsal;
use App\Models\Site;
use App\Rehearsals\Browser\Chromium;
use App\Rehearsals\Browser\Tab;
use Closure;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Happenings\Kind;
use Pellix\Core\Rehearsal\Cast;
use Pellix\Core\Rehearsal\Guest;
use Pellix\Core\Rehearsal\HarLog;
use Pellix\Core\Rehearsal\Screen;
use Pellix\Core\Rehearsal\Script;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Wiring\RuntimeConfiguration;

/** Everything that the parts of a rehearsal share: what is rehearsed, where, with which browser, and how a visitor is made. */
final class Stage
{
    private const ID = 'abcdefghijklmnopqrstuvwxyz0123456789';

    /** So many ids are tried until one is assigned as wanted: enough for a weight of one in a thousand. */
    private const MOST_IDS = 20_000;

    private const LONGEST_DOCUMENT = 500_000;

    public readonly Received $received;

    /** Somebody who belongs to the audience; null where nobody can be made so that they do. */
    public readonly ?Guest $guest;

    private readonly string $mark;

    /**
     * @param string            $pellix  where Pellix is served from, as pages know it
     * @param list<string>      $pages   known addresses that the experiment is for
     * @param string|null       $file    the text of the site's file as it would be; null where the published one has the experiment
     * @param Closure(string): void                 $say   what is done now
     * @param Closure(string, string, string): void $keep  a file: name, media type, content
     */
    public function __construct(
        public readonly Rehearsal $rehearsal,
        public readonly Site $site,
        public readonly Experiment $experiment,
        public readonly Chromium $chromium,
        public readonly string $pellix,
        public readonly array $pages,
        public readonly ?string $file,
        public readonly Script $script,
        private readonly Closure $say,
        private readonly Closure $keep,
        string $key,
    ) {
        $this->guest = Cast::enters($pages[0], $experiment->pages, $experiment->audience);
        $this->received = new Received($rehearsal->id);
        $this->mark = (new RehearsalMark($key))->give($site->key, $rehearsal->id, time());
    }

    public function say(string $words): void
    {
        ($this->say)($words);
    }

    public function keep(string $name, string $media, string $content): void
    {
        ($this->keep)($name, $media, $content);
    }

    /** Keeps what there is to see of a page on which something was found: a picture, its document, its console and its requests. */
    public function evidence(Tab $tab, string $name): void
    {
        $picture = $tab->hangs ? null : $tab->picture();
        $picture === null || $this->keep("found-{$name}.png", 'image/png', $picture);
        $document = $tab->hangs ? null : $tab->evaluate('document.documentElement.outerHTML', true);
        is_string($document) && $this->keep("found-{$name}.html", 'text/plain', mb_strcut(mb_scrub($document, 'UTF-8'), 0, self::LONGEST_DOCUMENT, 'UTF-8'));
        $this->keep("found-{$name}.console.json", 'application/json', (string) json_encode($tab->watch->console, JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES));
        $har = HarLog::of($tab->watch->addresses[0] ?? $this->page(), array_values($tab->withContent()), 'Chromium');
        $this->keep("found-{$name}.har", 'application/json', (string) json_encode($har, JSON_INVALID_UTF8_SUBSTITUTE | JSON_UNESCAPED_SLASHES));
    }

    /** @return array<string, mixed> what an earlier part has measured */
    public function figures(string $kind, ?string $variant = null): array
    {
        $part = $this->rehearsal->parts()->where('kind', $kind)->where('variant', $variant)->first();

        return (array) ($part->result['figures'] ?? []);
    }

    /** Whether the runtime runs on the page at all: where it does not, everything else would only say so again. */
    public function runs(): bool
    {
        return ($this->figures('snippet')['runs'] ?? true) !== false;
    }

    /** What an earlier part has kept. */
    public function file(string $name): ?string
    {
        $content = DB::table('rehearsal_files')->where('rehearsal_id', $this->rehearsal->id)->where('name', $name)->value('content');

        return is_string($content) ? $content : null;
    }

    /** Where files may lie for a while: what is in it is deleted with the browser. */
    public function folder(): string
    {
        return $this->chromium->folder;
    }

    /** The address that a visitor opens: of somebody who belongs to the audience. */
    public function page(): string
    {
        return $this->guest->url ?? $this->pages[0];
    }

    /** The screen where one is enough. */
    public function screen(): Screen
    {
        return $this->screens()[0] ?? Screen::Desktop;
    }

    public function origin(): string
    {
        return (string) preg_replace('~\A(https?://[^/?#]+).*\z~is', '$1', $this->page());
    }

    /** The whole address of a path on the site, or of a page that is named by its whole address. */
    public function address(string $path): string
    {
        return str_starts_with($path, '/') ? $this->origin().$path : $path;
    }

    /** @return list<Screen> */
    public function screens(): array
    {
        $device = $this->guest->made['device'] ?? null;

        // Somebody on another device is nobody of the audience.
        return array_values(array_filter(array_map(Screen::from(...), $this->rehearsal->screens), static fn (Screen $one): bool => $device === null || $device === $one->value));
    }

    /** @return list<DeclaredVariant> those that are rehearsed */
    public function variants(): array
    {
        return array_values(array_filter($this->experiment->variants, fn (DeclaredVariant $one): bool => in_array($one->variant->key, $this->rehearsal->variants, true)));
    }

    public function variant(string $key): DeclaredVariant
    {
        foreach ($this->experiment->variants as $variant) {
            if ($variant->variant->key === $key) {
                return $variant;
            }
        }

        throw new \LogicException("There is no variant {$key}.");
    }

    public function control(): DeclaredVariant
    {
        foreach ($this->experiment->variants as $variant) {
            if ($variant->variant->isControl) {
                return $variant;
            }
        }

        return $this->experiment->variants[0];
    }

    /** An id that the core assigns to a variant; null where none does, such as with the weight 0. */
    public function id(string $variant): ?string
    {
        $assigner = $this->experiment->assigner();
        for ($i = 0; $i < self::MOST_IDS; $i++) {
            $id = $this->anyId();
            if ($assigner->variantOf($id) === $variant) {
                return $id;
            }
        }

        return null;
    }

    public function anyId(): string
    {
        $id = '';
        foreach (str_split(random_bytes(26)) as $byte) {
            $id .= self::ID[ord($byte) % 36];
        }

        return $id;
    }

    /**
     * A new visitor who will be assigned to a variant: what decides is the id, as with everybody else.
     *
     * @param string|null $variant null for one who comes without an id
     * @param Closure(string): (array{string, array<string, mixed>}|null)|null $file what is done with the request for the site's file
     * @param Guest|null  $guest   whom they are to be like; null for somebody of the audience
     */
    public function visitor(?string $variant, Screen $screen, ?Closure $file = null, ?Guest $guest = null): Visitor
    {
        $guest ??= $this->guest;
        $tab = $this->chromium->visitor($screen);
        $id = $variant === null ? null : $this->id($variant);
        if ($id !== null && $this->experiment->unit === 'user') {
            // Somebody who is signed in: what decides is who they are.
            $tab->execute('Page.addScriptToEvaluateOnNewDocument', ['source' => 'window.pellix = window.pellix || function () { window.pellix.waiting.push(arguments) }; window.pellix.waiting = window.pellix.waiting || []; window.pellix("user", '.json_encode($id, JSON_THROW_ON_ERROR).');']);
            $id = $this->anyId();
        }
        $id === null || $this->give($tab, 'plx_visitor', $id);
        $this->agree($tab);
        $guest === null || (new Guests($this))->dress($tab, $guest);
        $this->connect($tab, $file);

        return new Visitor($tab, $id, (string) $variant);
    }

    /** Empties a page's visitor, as if nobody had been here, for a load with the snippet or without it. */
    public function empty(Tab $tab, bool $withSnippet): void
    {
        $tab->go('about:blank');
        $tab->execute('Network.clearBrowserCache');
        $tab->execute('Storage.clearDataForOrigin', ['origin' => $this->origin(), 'storageTypes' => 'all']);
        $tab->execute('Network.setBlockedURLs', ['urls' => $withSnippet ? [] : ["*/s/{$this->site->key}.js*"]]);
        $tab->attend(0.05);
        $tab->watch->forget();
    }

    /** Opens the page as the visitor who was made does. */
    public function open(Visitor $visitor, ?Guest $guest = null): void
    {
        $guest ??= $this->guest;
        $host = $guest->made['referrer.host'] ?? null;
        $visitor->tab->go($guest->url ?? $this->page(), is_string($host) ? "https://{$host}/" : null);
    }

    /** Does whatever starts the experiment on the page, where that is not the page view itself. */
    public function setOff(Tab $tab): void
    {
        $trigger = $this->experiment->trigger;
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
        return $this->chromium->beside('lasting');
    }

    /** @return list<string> keys of the other experiments of its group */
    public function members(): array
    {
        return $this->experiment->group === null ? [] : $this->site->experiments()->where('group_key', $this->experiment->group->key)->where('key', '<>', $this->experiment->key)->pluck('key')->all();
    }

    /** @param Closure(string): (array{string, array<string, mixed>}|null)|null $file */
    public function connect(Tab $tab, ?Closure $file = null): void
    {
        $patterns = [['urlPattern' => "{$this->pellix}/c*"], ['urlPattern' => "{$this->pellix}/p.gif*"]];
        if ($file !== null || $this->file !== null) {
            $patterns[] = ['urlPattern' => "*/s/{$this->site->key}.js*"];
        }
        $tab->guard($patterns, function (array $paused) use ($file): ?array {
            $url = (string) $paused['request']['url'];
            if (str_contains((string) parse_url($url, PHP_URL_PATH), '/s/')) {
                return ($file === null ? null : $file((string) $paused['requestId'])) ?? $this->ownFile();
            }

            return ['Fetch.continueRequest', ['url' => $url.(str_contains($url, '?') ? '&' : '?').'rehearsal='.$this->mark]];
        });
    }

    /** @return array{string, array<string, mixed>}|null the site's file as it would be with the experiment, where that is not published yet */
    public function ownFile(): ?array
    {
        return $this->file === null ? null : ['Fetch.fulfillRequest', [
            'responseCode' => 200,
            'responseHeaders' => [['name' => 'Content-Type', 'value' => 'text/javascript'], ['name' => 'Access-Control-Allow-Origin', 'value' => '*'], ['name' => 'Cache-Control', 'value' => 'no-cache']],
            'body' => base64_encode($this->file),
        ]];
    }

    /** Of a site that asks, somebody who has agreed: whether anything there lets them is a question by itself. */
    public function agree(Tab $tab): void
    {
        $this->site->settings()->asksConsent && $this->give($tab, 'plx_consent', 'statistics.marketing');
    }

    public function give(Tab $tab, string $name, string $value): void
    {
        $tab->setCookie($name, $value, $this->page(), $this->cookieDomain(), $this->site->cookie_days * 86_400);
    }

    public function cookieDomain(): ?string
    {
        return RuntimeConfiguration::cookieDomain($this->site->hosts);
    }

    /** @param list<Change> $changes */
    public static function probe(array $changes): string
    {
        static $text = null;
        $text ??= file_get_contents(__DIR__.'/Probes/changes.js')."\n".file_get_contents(__DIR__.'/Probes/watch.js');
        $plan = json_encode(['changes' => array_map(static fn (Change $change): array => $change->toArray(), $changes)], JSON_THROW_ON_ERROR | JSON_HEX_TAG);

        return "const pellixPlan = {$plan};\n{$text}\nglobalThis.pellixWatch = pellixWatch;";
    }

    /** Waits until the runtime of the site's file runs, and has decided what it can. */
    public function awaitRuntime(Tab $tab, float $seconds = 5.0): bool
    {
        return $tab->await('!!(window.pellix && window.pellix.running)', $seconds);
    }

    /**
     * Waits for what the collector has of a visitor.
     *
     * @template T
     *
     * @param callable(): ?T $probe
     *
     * @return T|null
     */
    public function awaitReceived(Tab $tab, callable $probe, float $seconds): mixed
    {
        $until = microtime(true) + $seconds;
        do {
            $found = $probe();
            if ($found !== null) {
                return $found;
            }
            $tab->attend(0.05);
        } while (microtime(true) < $until);

        return null;
    }

    /** @return list<string> hosts of a page's requests that were none of the site's own */
    public function otherHosts(Tab $tab): array
    {
        $own = [...$this->site->hosts, AddressFacts::of($this->pellix)->host];
        $hosts = array_map(static fn (array $request): string => preg_match('~\A(?:https?|wss?):~i', $request['url']) === 1 ? AddressFacts::of($request['url'])->host : '', $tab->watch->requests);

        return array_values(array_diff(array_unique(array_filter($hosts)), $own));
    }
}
