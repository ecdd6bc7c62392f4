<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

/**
 * Where requests of a page, and of its frames, workers and windows, are stopped before they are made. Gates add up: none that was
 * put up takes another away, and the newest is asked first.
 */
final class Gate
{
    /** @var list<array<string, string>> of the requests that are stopped, as Fetch.enable takes them */
    private array $patterns = [];

    /** @var list<\Closure(array<string, mixed>): (array{string, array<string, mixed>}|null)> what is done with a request; null where it is none of this one's */
    private array $answers = [];

    public function __construct(private readonly DevTools $devtools)
    {
    }

    /**
     * @param list<array<string, string>> $patterns
     * @param \Closure(array<string, mixed>): (array{string, array<string, mixed>}|null) $answer
     *
     * @return list<array<string, string>> the patterns of all
     */
    public function add(array $patterns, \Closure $answer): array
    {
        array_unshift($this->answers, $answer);

        return $this->patterns = [...$this->patterns, ...$patterns];
    }

    public function isThere(): bool
    {
        return $this->answers !== [];
    }

    /** Stands also before a session that belongs to the page. */
    public function takeIn(string $session): void
    {
        $this->patterns === [] || $this->devtools->send('Fetch.enable', ['patterns' => $this->patterns], $session, false);
    }

    /** @param array<string, mixed> $paused as Fetch.requestPaused tells it */
    public function stopped(string $session, array $paused): void
    {
        $done = null;
        foreach ($this->answers as $answer) {
            $done ??= $answer($paused);
        }
        [$command, $parameters] = $done ?? ['Fetch.continueRequest', []];
        // No command: it is held.
        if ($command !== '') {
            $this->devtools->send($command, ['requestId' => $paused['requestId'], ...$parameters], $session, false);
        }
    }
}
