<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

/** Where requests of a page, and of its frames, workers and windows, are stopped before they are made. */
final class Gate
{
    /** @var list<array<string, string>> of the requests that are stopped, as Fetch.enable takes them */
    private array $patterns = [];

    /** @var \Closure(array<string, mixed>): (array{string, array<string, mixed>}|null)|null what is done with a request; null lets it go */
    private ?\Closure $answer = null;

    public function __construct(private readonly DevTools $devtools)
    {
    }

    /**
     * @param list<array<string, string>> $patterns
     * @param \Closure(array<string, mixed>): (array{string, array<string, mixed>}|null) $answer
     */
    public function set(array $patterns, \Closure $answer): void
    {
        $this->patterns = $patterns;
        $this->answer = $answer;
    }

    public function isSet(): bool
    {
        return $this->answer !== null;
    }

    /** Stands also before a session that belongs to the page. */
    public function takeIn(string $session): void
    {
        $this->patterns === [] || $this->devtools->send('Fetch.enable', ['patterns' => $this->patterns], $session, false);
    }

    /** @param array<string, mixed> $paused as Fetch.requestPaused tells it */
    public function stopped(string $session, array $paused): void
    {
        [$command, $parameters] = ($this->answer === null ? null : ($this->answer)($paused)) ?? ['Fetch.continueRequest', []];
        // No command: it is held.
        if ($command !== '') {
            $this->devtools->send($command, ['requestId' => $paused['requestId'], ...$parameters], $session, false);
        }
    }
}
