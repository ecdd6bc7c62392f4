<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Collector\Apart;
use App\Collector\Mark;
use App\Models\Rehearsal;
use App\Models\Site;
use App\Rehearsals\Browser\Chromium;
use App\Rehearsals\Browser\Tab;
use Closure;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;
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
    /** So many ids are tried until one is assigned as wanted: enough for a weight of one in a thousand. */
    private const MOST_IDS = 20_000;

    private const LONGEST_DOCUMENT = 500_000;

    public readonly Received $received;

    /** Somebody who belongs to the audience; null where nobody can be made so that they do. */
    public readonly ?Guest $guest;

    /** What the collector knows the rehearsal by. */
    public readonly string $mark;

    /** @var list<string> paths of the site's file, one for each key that pages may carry; the present one's first */
    public readonly array $files;

    public Chromium $chromium;

    public Visitors $visitors;

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
        public readonly string $pellix,
        public readonly array $pages,
        public readonly ?string $file,
        public readonly Script $script,
        private readonly Closure $say,
        private readonly Closure $keep,
        string $key,
    ) {
        $this->guest = Cast::enters($pages[0], $experiment->pages, $experiment->audience);
        $this->files = array_map(static fn (string $one): string => "/s/{$one}.js", $site->keys());
        $this->received = new Received($rehearsal->id, $site->session_minutes);
        $this->mark = (new Mark(Apart::Rehearsal, $key))->give($site->id, $rehearsal->id, time());
    }

    /** The same in a browser, which may be another one than before. */
    public function in(Chromium $chromium): self
    {
        $stage = clone $this;
        $stage->chromium = $chromium;
        $stage->visitors = new Visitors($stage);

        return $stage;
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
        return $this->screens()[0] ?? Screen::tryFrom((string) ($this->guest->made['device'] ?? '')) ?? Screen::Desktop;
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
            $id = Visitors::anyId();
            if ($assigner->variantOf($id) === $variant) {
                return $id;
            }
        }

        return null;
    }

    /** @return list<string> keys of the other experiments of its group */
    public function members(): array
    {
        return $this->experiment->group === null ? [] : $this->site->experiments()->where('group_key', $this->experiment->group->key)->where('key', '<>', $this->experiment->key)->pluck('key')->all();
    }

    public function cookieDomain(): ?string
    {
        return RuntimeConfiguration::cookieDomain($this->site->hosts);
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
