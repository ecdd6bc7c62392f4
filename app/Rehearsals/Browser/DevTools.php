<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

/**
 * One connection to a browser over the DevTools protocol, for what WebDriver cannot see: every command has its answer, and what
 * happens meanwhile is told to whoever listens. A session is one page, worker or frame of its own process; '' is the browser.
 */
final class DevTools
{
    private const AT_ONCE = 500;

    private int $last = 0;

    /** @var array<int, array<string, mixed>> answers that nobody has fetched yet */
    private array $answers = [];

    /** @var array<int, true> commands whose answers nobody waits for */
    private array $unheard = [];

    /** @var list<\Closure(string, string, array<string, mixed>): void> */
    private array $listeners = [];

    /** @var list<array{string, string, array<string, mixed>}> what has happened, and was not told yet */
    private array $happened = [];

    private bool $isTelling = false;

    public function __construct(private readonly Socket $socket)
    {
    }

    /** @param \Closure(string, string, array<string, mixed>): void $listener session, name of the event, its parameters */
    public function listen(\Closure $listener): void
    {
        $this->listeners[] = $listener;
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return array<string, mixed>
     *
     * @throws BrowserGone
     * @throws CommandFailed
     */
    public function execute(string $command, array $parameters = [], string $session = '', float $seconds = 15.0): array
    {
        $number = $this->send($command, $parameters, $session);
        $until = microtime(true) + $seconds;
        while (! isset($this->answers[$number])) {
            if (microtime(true) >= $until) {
                $this->unheard[$number] = true;
                throw new CommandFailed("{$command} has not been answered for {$seconds} seconds.", true);
            }
            $this->take($until - microtime(true));
        }
        $answer = $this->answers[$number];
        unset($this->answers[$number]);
        if (isset($answer['error'])) {
            throw new CommandFailed("{$command}: ".(string) ($answer['error']['message'] ?? 'it failed').'.');
        }
        $this->tell();

        return (array) ($answer['result'] ?? []);
    }

    /**
     * Sends a command without waiting for its answer: what fails is not asked about.
     *
     * @param array<string, mixed> $parameters
     */
    public function send(string $command, array $parameters = [], string $session = '', bool $heard = true): int
    {
        $number = ++$this->last;
        $heard || $this->unheard[$number] = true;
        $this->socket->send(json_encode(['id' => $number, 'method' => $command, 'params' => (object) $parameters, ...($session === '' ? [] : ['sessionId' => $session])], JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE));

        return $number;
    }

    /** Listens for so long. */
    public function attend(float $seconds): void
    {
        $until = microtime(true) + $seconds;
        do {
            $this->take(max(0.0, $until - microtime(true)));
            $this->tell();
        } while (microtime(true) < $until);
    }

    public function close(): void
    {
        $this->socket->close();
    }

    private function take(float $seconds): void
    {
        $text = $this->socket->receive(min($seconds, 0.25));
        // A page that never stops talking keeps nobody from looking at the clock.
        for ($taken = 0; $text !== null && $taken < self::AT_ONCE; $taken++) {
            $message = (array) json_decode($text, true, 512, JSON_INVALID_UTF8_SUBSTITUTE);
            if (isset($message['id'])) {
                $number = (int) $message['id'];
                if (isset($this->unheard[$number])) {
                    unset($this->unheard[$number]);
                } else {
                    $this->answers[$number] = $message;
                }
            } elseif (isset($message['method'])) {
                $this->happened[] = [(string) ($message['sessionId'] ?? ''), (string) $message['method'], (array) ($message['params'] ?? [])];
            }
            $text = $taken + 1 < self::AT_ONCE ? $this->socket->receive(0) : null;
        }
        // A page that waits to be let go must not wait until the answer to something else is there.
        $this->tell();
    }

    /** One after the other, also where a listener executes a command and more happens meanwhile. */
    private function tell(): void
    {
        if ($this->isTelling) {
            return;
        }
        $this->isTelling = true;
        try {
            while ($this->happened !== []) {
                [$session, $name, $parameters] = array_shift($this->happened);
                foreach ($this->listeners as $listener) {
                    $listener($session, $name, $parameters);
                }
            }
        } finally {
            $this->isTelling = false;
        }
    }
}
