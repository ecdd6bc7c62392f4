<?php

declare(strict_types=1);

namespace App\Collector;

/** What the collector tells a browser. Beacons come from other origins, as simple requests that need no preflight. */
final readonly class Answer
{
    /**
     * @param array<string, mixed>|null $json
     * @param int|null                  $seconds after which the same may be sent again
     */
    private function __construct(public int $status, public ?array $json, private ?int $seconds = null)
    {
    }

    /** @param list<array{index: int, id: string|null, reason: string, message: string}> $rejected */
    public static function taken(int $accepted, int $repeated, array $rejected): self
    {
        return new self(200, ['accepted' => $accepted, 'repeated' => $repeated, 'rejected' => $rejected]);
    }

    public static function refused(int $status, string $reason, string $message): self
    {
        return new self($status, ['error' => $reason, 'message' => $message]);
    }

    /** Nothing was stored: the browser may send the same again. */
    public static function unavailable(): self
    {
        return new self(503, ['error' => 'unavailable', 'message' => 'The events could not be stored; send them again later.'], 5);
    }

    /** Nothing was stored: the site sends more than it may. */
    public static function tooMany(int $seconds): self
    {
        return new self(429, ['error' => 'too-many', 'message' => 'This site sends more events than it may; send them again later.'], $seconds);
    }

    public static function preflight(): self
    {
        return new self(204, null);
    }

    public function send(): void
    {
        http_response_code($this->status);
        header('Access-Control-Allow-Origin: *');
        header('Access-Control-Allow-Methods: POST');
        header('Access-Control-Allow-Headers: Content-Type');
        header('Access-Control-Max-Age: 86400');
        header('Access-Control-Expose-Headers: Retry-After');
        if ($this->seconds !== null) {
            header("Retry-After: {$this->seconds}");
        }
        header('Cache-Control: no-store');
        header('X-Content-Type-Options: nosniff');
        if ($this->json !== null) {
            header('Content-Type: application/json');
            echo json_encode($this->json, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE);
        }
    }
}
