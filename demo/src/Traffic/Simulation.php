<?php

declare(strict_types=1);

namespace Demo\Traffic;

use Demo\Library;
use GuzzleHttp\Client;
use GuzzleHttp\HandlerStack;
use GuzzleHttp\Middleware;
use GuzzleHttp\Pool;
use GuzzleHttp\Psr7\Request;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Formats\Moment;
use Psr\Http\Message\ResponseInterface;

/** Sends visitors of one experiment to the real collector, as their browsers would. The same seed sends the same visitors. */
final class Simulation
{
    private const CONCURRENCY = 6;

    private const MOST_TRIES = 50;

    private const AGENT = 'Mozilla/5.0 (X11; Linux x86_64) PellixSimulator/1';

    /** The control's chance of reaching a goal; each further variant's is a little higher. All invented. */
    private const BASELINE = 0.12;

    private const STEP = 0.02;

    /** Address of the experiment's page; null where the demo site has none that matches. */
    public readonly ?string $page;

    private readonly Browser $browser;

    private readonly Dice $dice;

    /** @var list<string> one address per goal that the demo site can reach */
    private readonly array $goals;

    /** @var array{accepted: int, repeated: int, rejected: int, failed: int, lost: int} */
    private array $result = ['accepted' => 0, 'repeated' => 0, 'rejected' => 0, 'failed' => 0, 'lost' => 0];

    /**
     * @param list<Experiment>          $running everything that visitors meet
     * @param array{string, float}|null $lose    a variant, and the part of its visitors whose beacons never arrive
     */
    public function __construct(
        private readonly string $collector,
        string $origin,
        array $running,
        private readonly Experiment $experiment,
        int $seed,
        private readonly ?array $lose,
    ) {
        $this->dice = new Dice($seed);
        $this->browser = new Browser($running, $this->dice);
        $addresses = array_map(static fn (string $path): string => $origin.$path, Library::paths());
        $first = static fn (callable $matches): ?string => array_values(array_filter($addresses, $matches))[0] ?? null;
        $this->page = $first($experiment->pages->matches(...));
        $this->goals = array_values(array_filter(array_map(static fn ($goal): ?string => $goal->kind === 'page' && $goal->steps[0]->pages !== null ? $first($goal->steps[0]->pages->matches(...)) : null, $experiment->goals)));
    }

    /**
     * @param callable(): void $progress called once per visitor
     *
     * @return array{accepted: int, repeated: int, rejected: int, failed: int, lost: int}
     */
    public function send(int $visitors, callable $progress): array
    {
        // Asked for patience, a browser waits; so do these.
        $handler = HandlerStack::create();
        $handler->push(Middleware::retry(
            static fn (int $tries, Request $request, ?ResponseInterface $response): bool => $response?->getStatusCode() === 429 && $tries < self::MOST_TRIES,
            static fn (int $tries, ?ResponseInterface $response): int => 1000 * max(1, (int) $response?->getHeaderLine('Retry-After')),
        ));
        $client = new Client(['handler' => $handler, 'http_errors' => false, 'timeout' => 30]);
        (new Pool($client, $this->requests($visitors, $progress), [
            'concurrency' => self::CONCURRENCY,
            'fulfilled' => $this->answered(...),
            'rejected' => function (): void {
                $this->result['failed']++;
            },
        ]))->promise()->wait();

        return $this->result;
    }

    /** @return \Generator<Request> */
    private function requests(int $visitors, callable $progress): \Generator
    {
        for ($i = 0; $i < $visitors; $i++) {
            $visitor = $this->dice->id();
            $variant = $this->experiment->assigner()->variantOf($visitor);
            $lost = $this->lose !== null && $variant === $this->lose[0] && $this->dice->chance($this->lose[1]);
            $this->result['lost'] += $lost ? 1 : 0;
            foreach ($this->beacons($visitor, $variant) as $events) {
                if (! $lost) {
                    yield $this->request($events);
                }
            }
            $progress();
        }
    }

    /** @return list<list<array<string, mixed>>> the beacons of one visit */
    private function beacons(string $visitor, ?string $variant): array
    {
        $now = new \DateTimeImmutable('now', new \DateTimeZone('UTC'));
        $page = (string) $this->page;
        $beacons = [$this->browser->open($visitor, $page, null, $now)];
        $position = (int) array_search($variant, array_map(static fn ($variant): string => $variant->variant->key, $this->experiment->variants), true);
        foreach ($this->goals as $goal) {
            if ($this->dice->chance(self::BASELINE + self::STEP * $position)) {
                $beacons[] = $this->browser->open($visitor, $goal, $page, $now->modify('+1 second'));
            }
        }

        return $beacons;
    }

    /** @param list<array<string, mixed>> $events */
    private function request(array $events): Request
    {
        return new Request('POST', $this->collector, ['Content-Type' => 'text/plain;charset=UTF-8', 'User-Agent' => self::AGENT], json_encode([
            'pellix' => 1,
            'site' => Library::SITE_KEY,
            'sent' => Moment::format(new \DateTimeImmutable()),
            'events' => array_map(static fn (array $event): array => [...$event, 'props' => (object) $event['props']], $events),
        ], JSON_THROW_ON_ERROR));
    }

    private function answered(ResponseInterface $response): void
    {
        $answer = json_decode((string) $response->getBody(), true);
        if ($response->getStatusCode() !== 200 || ! is_array($answer)) {
            $this->result['failed']++;

            return;
        }
        $this->result['accepted'] += $answer['accepted'];
        $this->result['repeated'] += $answer['repeated'];
        $this->result['rejected'] += count($answer['rejected']);
    }
}
