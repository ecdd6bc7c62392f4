<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Har;

use Pellix\Core\Wiring\Findings\Finding;

use Pellix\Core\Wiring\Findings\FindingCode;
use Pellix\Core\Wiring\Html\Encoding;
use Pellix\Core\Wiring\Html\PageReader;
use Pellix\Core\Wiring\Html\Script;
use Pellix\Core\Wiring\Inspection\Delivery;
use Pellix\Core\Wiring\Inspection\Expectation;
use Pellix\Core\Wiring\Inspection\Inspector;
use Pellix\Core\Wiring\Inspection\Report;
use Pellix\Core\Wiring\Snippet;

/** Inspects what really happened on a page: its HTML, and which beacons and tags fired, in which order and how often. */
final class CaptureInspector
{
    /** @var list<Finding> */
    private array $findings = [];

    /** @var list<array<string, mixed>> */
    private array $calls = [];

    private ?Exchange $document = null;

    private ?Exchange $runtime = null;

    /** @var array<string, true> ids of events that got through */
    private array $delivered = [];

    /** @var list<array{Exchange, list<string>, list<string>}> beacons that did not get through, with names and ids of their events */
    private array $lost = [];

    private int $beacons = 0;

    /** @var array<string, list<Exchange>> tag key => its requests */
    private array $tags = [];

    /** @var array<string, true> addresses that an earlier request was sent on to */
    private array $led = [];

    /** @param array<string, true> $collectors addresses that beacons go to */
    private function __construct(private readonly Expectation $expected, private readonly array $collectors)
    {
    }

    /**
     * @return array{Report, list<array<string, mixed>>} the findings, and the calls of Pellix and of the expected tags in the
     *                                                  order of time: `at`, `what`, `url`, `status`, `events`, `parameters`
     */
    public static function inspect(Capture $capture, Expectation $expected): array
    {
        $findings = $calls = $collectors = [];
        foreach ($capture->exchanges as $exchange) {
            if (preg_match('~\A(https?://[^/]+)'.substr(Snippet::FILE, 1), $exchange->url, $m) === 1) {
                $collectors["{$m[1]}/c"] = true;
            }
        }
        $hasPage = false;
        foreach ($capture->pages() as $exchanges) {
            $page = new self($expected, $collectors);
            $page->page($exchanges);
            $hasPage = $hasPage || $page->document !== null;
            $findings = [...$findings, ...$page->findings];
            $calls = [...$calls, ...$page->calls];
        }
        if (! $hasPage) {
            array_unshift($findings, new Finding(FindingCode::PageUnreachable, 1, 1, '', $capture->exchanges === [] ? 'The capture holds no request at all.' : 'The capture holds no page, only what pages asked for.', 'Open the network panel first, then load the page, and save the capture again.'));
        }

        return [new Report($findings), $calls];
    }

    /** @param list<Exchange> $exchanges */
    private function page(array $exchanges): void
    {
        foreach ($exchanges as $exchange) {
            // A browser that asks whether it may ask has not asked yet.
            $exchange->method === 'OPTIONS' || $this->take($exchange, $exchanges);
        }
        foreach ($this->lost as [$exchange, $names, $ids]) {
            if ($ids === [] || array_diff_key(array_flip($ids), $this->delivered) !== []) {
                $this->add(FindingCode::BeaconRefused, $exchange, 'A beacon with '.(implode(', ', $names) ?: 'events').' did not get through.', match (true) {
                    $exchange->leadsTo !== null => 'It was sent on to another address, and lost what it carries on the way: let beacons be taken where they are sent to.',
                    $exchange->status === 0 => 'Look for a content blocker, a policy (connect-src) or a network that keeps it back.',
                    default => 'The answer says what is wrong: '.mb_strcut((string) $exchange->body, 0, 300, 'UTF-8'),
                });
            }
        }
        $inspected = $this->document();
        $this->runtime($inspected);
        $this->tags($inspected);
    }

    /** @param list<Exchange> $all of the page */
    private function take(Exchange $exchange, array $all): void
    {
        if ($this->document === null && $exchange->isDocument()) {
            $this->document = $exchange;
        }
        $wasLed = isset($this->led[$exchange->url]);
        if ($exchange->leadsTo !== null) {
            $this->led[$exchange->leadsTo] = true;
        }
        if (preg_match(Snippet::FILE, $exchange->url, $m) === 1) {
            if (! $wasLed) {
                $this->call('runtime', $exchange);
            }
            if (! $this->expected->isOwn($m[1])) {
                $this->add(FindingCode::SnippetWrongKey, $exchange, "The page loads the file of {$m[1]}, which is another site's; this site's is {$this->expected->key}.", 'Copy the snippet of this site from Wiring and put it in the place of the other one.');
            } elseif ($this->runtime === null || $this->runtime->failed()) {
                $this->runtime = self::end($exchange, $all);
            }
        } elseif ($exchange->method === 'POST' && ($exchange->sent !== null || isset($this->collectors[(string) preg_replace('/[?#].*/s', '', $exchange->url)]))) {
            $this->beacon($exchange);
        }
        foreach ($wasLed ? [] : $this->expected->tags as $tag) {
            if (str_contains($exchange->url, $tag->contains)) {
                $this->tags[$tag->key][] = $exchange;
                $this->call($tag->key, $exchange);
            }
        }
    }

    /**
     * The request that a chain of redirects ends with, as far as the capture has it.
     *
     * @param list<Exchange> $all
     */
    private static function end(Exchange $exchange, array $all): Exchange
    {
        $seen = [];
        while ($exchange->leadsTo !== null && ! isset($seen[$exchange->leadsTo])) {
            $seen[$exchange->leadsTo] = true;
            $next = null;
            foreach ($all as $one) {
                if ($next === null && $one->url === $exchange->leadsTo && $one->at >= $exchange->at) {
                    $next = $one;
                }
            }
            if ($next === null) {
                break;
            }
            $exchange = $next;
        }

        return $exchange;
    }

    private function beacon(Exchange $exchange): void
    {
        $body = $exchange->sent === null ? ['site' => $this->expected->key, 'events' => []] : json_decode($exchange->sent, true, 32);
        if (! is_array($body) || ! $this->expected->isOwn($body['site'] ?? null) || ! is_array($body['events'] ?? null)) {
            return;
        }
        $this->beacons++;
        // The same goes on to another address: there it counts.
        if ($exchange->leadsTo !== null && $exchange->keepsItsBody()) {
            return;
        }
        $names = $ids = $again = [];
        foreach ($body['events'] as $event) {
            $names[] = is_array($event) && is_string($event['name'] ?? null) ? $event['name'] : '?';
            $id = is_array($event) && is_string($event['id'] ?? null) ? "#{$event['id']}" : null;
            if ($id !== null && isset($this->delivered[$id])) {
                $again[] = end($names);
            }
            if ($id !== null) {
                $ids[] = $id;
            }
        }
        $this->call('beacon', $exchange, $names);
        if ($exchange->failed() || $exchange->leadsTo !== null) {
            // Perhaps the same is sent again.
            $this->lost[] = [$exchange, $names, $ids];

            return;
        }
        $this->delivered += array_fill_keys($ids, true);
        if ($again !== []) {
            $this->add(FindingCode::BeaconRepeated, $exchange, 'Events were sent more than once: '.implode(', ', $again).'. Pellix stores them once.', 'Nothing, if the connection was poor; otherwise look for something that repeats requests.');
        }
        $answer = json_decode((string) $exchange->body, true, 32);
        foreach (is_array($answer) && is_array($answer['rejected'] ?? null) ? $answer['rejected'] : [] as $rejected) {
            $reason = is_array($rejected) && is_string($rejected['reason'] ?? null) ? $rejected['reason'] : '';
            $why = is_array($rejected) && is_string($rejected['message'] ?? null) ? $rejected['message'] : '';
            $this->add(FindingCode::BeaconRejected, $exchange, "An event was rejected ({$reason}): {$why}", 'Mend what sends it; the live feed keeps it with its reason.');
        }
    }

    /** Whether the HTML itself could be inspected. */
    private function document(): bool
    {
        $document = $this->document;
        if ($document === null || $document->body === null) {
            return false;
        }
        $type = $document->header('content-type')[0] ?? $document->mimeType;
        // A text that is not base64 was decoded by the browser already.
        $type = $document->isBytes ? $type : preg_replace('/;.*/s', '', $type).'; charset=utf-8';
        $delivery = new Delivery($document->url, $document->url, $document->status === 304 ? 200 : $document->status, $type, $document->header('content-security-policy'), $document->body);
        $this->findings = [...Inspector::inspectDelivery($delivery, $this->expected)->findings, ...$this->findings];

        return true;
    }

    private function runtime(bool $inspected): void
    {
        if ($this->document === null) {
            return;
        }
        $codes = array_column($this->findings, 'code');
        $told = array_filter($codes, static fn (string $code): bool => str_starts_with($code, 'snippet.') || str_starts_with($code, 'page.'));
        if ($this->runtime === null) {
            if (! $inspected && $this->expected->snippet && ! in_array('snippet.wrong-key', $codes, true)) {
                $this->add(FindingCode::SnippetMissing, $this->document, 'The page never asked for the file that the snippet loads.', 'Copy the snippet from Wiring and paste it, as it is, into the head, before other scripts.');
            } elseif ($inspected && $told === [] && $this->expected->snippet) {
                $this->add(FindingCode::RuntimeMissing, $this->document, 'The snippet stands on the page, but the browser never asked for its file.', 'Look for a script error before it, a consent tool or a content blocker.');
            }
        } elseif ($this->runtime->failed()) {
            $this->add(FindingCode::RuntimeFailed, $this->runtime, 'The file that the snippet loads did not come.', 'Check that Pellix can be reached from there, and that nothing blocks it.');
        } elseif ($this->beacons === 0) {
            $this->add(FindingCode::BeaconMissing, $this->runtime, 'The runtime was loaded, but the capture holds no beacon.', 'Record until a second after the page was loaded, with the log preserved; beacons are listed as ping or fetch.');
        }
    }

    private function tags(bool $inspected): void
    {
        // What is not in the HTML but fired all the same was put there by something else.
        $this->findings = array_values(array_filter($this->findings, fn (Finding $finding): bool => $finding->code !== 'tag.missing' || ! isset($this->tags[$finding->tag ?? ''])));
        foreach ($this->expected->tags as $tag) {
            $calls = $this->tags[$tag->key] ?? [];
            if ($calls === [] && $inspected && $this->document !== null && in_array($tag->key, $this->asked(), true)) {
                $this->add(FindingCode::TagMissing, $this->document, "The tag \"{$tag->key}\" stands on the page, and made no request.", 'Look for a script error before it, a consent tool or a content blocker.', $tag->key);
            } elseif ($calls === [] && ! $inspected && $this->document !== null) {
                $this->add(FindingCode::TagMissing, $this->document, "The tag \"{$tag->key}\" made no request.", "Add the tag. It is known by “{$tag->contains}”.", $tag->key);
            }
            $needed = $tag->after === null ? null : ($this->tags[$tag->after][0] ?? null);
            if ($needed !== null && $calls !== [] && $needed->at > $calls[0]->at) {
                $this->add(FindingCode::TagOrder, $calls[0], "The tag \"{$tag->key}\" fired before \"{$tag->after}\", which it needs.", "Have it wait for \"{$tag->after}\".");
            }
            foreach (array_slice($calls, 1) as $again) {
                $this->add(FindingCode::TagDuplicate, $again, "The tag \"{$tag->key}\" fired more than once on one page.", 'Keep one copy of it, or one trigger.');
            }
        }
    }

    /** @return list<string> keys of the tags whose address stands on the page, so that a browser must have asked for it */
    private function asked(): array
    {
        $keys = [];
        foreach (PageReader::nodes(Encoding::decode((string) $this->document?->body, 'utf-8')) as $node) {
            $isAsked = $node->name === 'script' ? (new Script($node))->runs() : $node->attribute('loading') !== 'lazy';
            foreach ($isAsked ? $this->expected->tags : [] as $tag) {
                if ($tag->is($node) && str_contains($node->attribute('src') ?? '', $tag->contains)) {
                    $keys[$tag->key] = $tag->key;
                }
            }
        }

        return array_values($keys);
    }

    /** @param list<string> $events */
    private function call(string $what, Exchange $exchange, array $events = []): void
    {
        parse_str((string) parse_url($exchange->url, PHP_URL_QUERY), $parameters);
        $this->calls[] = [
            'at' => $exchange->at->format('Y-m-d\TH:i:s.v\Z'), 'what' => $what, 'method' => $exchange->method, 'url' => $exchange->url, 'status' => $exchange->status,
            'events' => $events, 'parameters' => (object) array_map(static fn (mixed $value): string => is_string($value) ? $value : (string) json_encode($value), $parameters),
        ];
    }

    private function add(FindingCode $code, Exchange $exchange, string $message, string $fix, ?string $tag = null): void
    {
        $this->findings[] = new Finding($code, $exchange->line, 1, $exchange->words(), $message, $fix, $tag);
    }
}
