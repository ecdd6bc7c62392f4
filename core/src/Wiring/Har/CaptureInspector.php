<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Har;

use Pellix\Core\Wiring\Findings\Finding;

use Pellix\Core\Wiring\Findings\FindingCode;
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

    /** @var array<string, true> ids of events that were sent */
    private array $sent = [];

    private int $beacons = 0;

    /** @var array<string, list<Exchange>> tag key => its requests */
    private array $tags = [];

    /** @param callable(int): int $lineOf the line of the file that an entry starts on */
    private function __construct(private readonly Expectation $expected, private $lineOf)
    {
    }

    /**
     * @param callable(int): int $lineOf the line of the file that an entry starts on
     *
     * @return array{Report, list<array<string, mixed>>} the findings, and the calls of Pellix and of the expected tags in the
     *                                                  order of time: `at`, `what`, `url`, `status`, `events`, `parameters`
     */
    public static function inspect(Capture $capture, Expectation $expected, callable $lineOf): array
    {
        $findings = $calls = [];
        foreach ($capture->pages() as $exchanges) {
            $page = new self($expected, $lineOf);
            $page->page($exchanges);
            $findings = [...$findings, ...$page->findings];
            $calls = [...$calls, ...$page->calls];
        }
        if ($findings === [] && $capture->exchanges === []) {
            $findings[] = new Finding(FindingCode::PageUnreachable, 1, 1, '', 'The capture holds no request at all.', 'Open the network panel first, then load the page, and save the capture again.');
        }

        return [new Report($findings), $calls];
    }

    /** @param list<Exchange> $exchanges */
    private function page(array $exchanges): void
    {
        foreach ($exchanges as $exchange) {
            $this->take($exchange);
        }
        $inspected = $this->document();
        $this->runtime($inspected);
        $this->tags($inspected);
    }

    private function take(Exchange $exchange): void
    {
        $isPage = preg_match('~\A(text/html|application/xhtml\+xml)\b~i', $exchange->mimeType) === 1;
        if ($this->document === null && $isPage && ($exchange->status < 300 || $exchange->status >= 400)) {
            $this->document = $exchange;
        }
        if (preg_match(Snippet::FILE, $exchange->url, $m) === 1) {
            $this->call('runtime', $exchange);
            if ($m[1] !== $this->expected->key) {
                $this->add(FindingCode::SnippetWrongKey, $exchange, "The page loads the file of {$m[1]}, which is another site's; this site's is {$this->expected->key}.", 'Copy the snippet of this site from Wiring and put it in the place of the other one.');
            } elseif ($this->runtime === null || $this->runtime->failed()) {
                $this->runtime = $exchange;
            }
        } elseif ($exchange->method === 'POST' && $exchange->sent !== null && str_contains($exchange->sent, '"pellix"')) {
            $this->beacon($exchange);
        }
        foreach ($this->expected->tags as $tag) {
            if (str_contains($exchange->url, $tag->contains)) {
                $this->tags[$tag->key][] = $exchange;
                $this->call($tag->key, $exchange);
            }
        }
    }

    private function beacon(Exchange $exchange): void
    {
        $body = json_decode((string) $exchange->sent, true);
        if (! is_array($body) || ($body['site'] ?? null) !== $this->expected->key || ! is_array($body['events'] ?? null)) {
            return;
        }
        $this->beacons++;
        $names = $again = [];
        foreach ($body['events'] as $event) {
            $names[] = is_array($event) && is_string($event['name'] ?? null) ? $event['name'] : '?';
            $id = is_array($event) && is_string($event['id'] ?? null) ? $event['id'] : null;
            if ($id !== null && isset($this->sent[$id])) {
                $again[] = end($names);
            }
            $this->sent[(string) $id] = true;
        }
        $this->call('beacon', $exchange, $names);
        if ($again !== []) {
            $this->add(FindingCode::BeaconRepeated, $exchange, 'Events were sent more than once: '.implode(', ', $again).'. Pellix stores them once.', 'Nothing, if the connection was poor; otherwise look for something that repeats requests.');
        }
        if ($exchange->failed()) {
            $this->add(FindingCode::BeaconRefused, $exchange, 'A beacon with '.implode(', ', $names).' did not get through.', $exchange->status === 0 ? 'Look for a content blocker, a policy (connect-src) or a network that keeps it back.' : 'The answer says what is wrong: '.mb_strcut((string) $exchange->body, 0, 300, 'UTF-8'));

            return;
        }
        $answer = json_decode((string) $exchange->body, true);
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
        $delivery = new Delivery($document->url, $document->url, $document->status, preg_replace('/;.*/', '', $type).'; charset=utf-8', $document->header('content-security-policy'), $document->body);
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
            if ($calls === [] && ! $inspected && $this->document !== null) {
                $this->add(FindingCode::TagMissing, $this->document, "The tag \"{$tag->key}\" made no request.", "Add the tag. It is known by “{$tag->contains}”.");
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

    /** @param list<string> $events */
    private function call(string $what, Exchange $exchange, array $events = []): void
    {
        parse_str((string) parse_url($exchange->url, PHP_URL_QUERY), $parameters);
        $this->calls[] = [
            'at' => $exchange->at->format('Y-m-d\TH:i:s.v\Z'), 'what' => $what, 'method' => $exchange->method, 'url' => $exchange->url, 'status' => $exchange->status,
            'events' => $events, 'parameters' => (object) array_map(static fn (mixed $value): string => is_string($value) ? $value : (string) json_encode($value), $parameters),
        ];
    }

    private function add(FindingCode $code, Exchange $exchange, string $message, string $fix): void
    {
        $this->findings[] = new Finding($code, ($this->lineOf)($exchange->index), 1, $exchange->words(), $message, $fix);
    }
}
