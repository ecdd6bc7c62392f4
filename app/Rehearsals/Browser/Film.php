<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

/** The frames of a page, recorded while it loads. */
final class Film
{
    /** @var list<array{at: float, data: string}> seconds since 1970, and a picture as JPEG */
    public array $frames = [];

    private int $most = 0;

    public function __construct(private readonly Tab $tab)
    {
    }

    public function record(int $most): void
    {
        $this->most = $most;
        $this->frames = [];
        $this->tab->execute('Page.startScreencast', ['format' => 'jpeg', 'quality' => 50, 'everyNthFrame' => 1]);
    }

    public function stop(): void
    {
        $this->most = 0;
        $this->tab->execute('Page.stopScreencast');
    }

    /** @param array<string, mixed> $frame as Page.screencastFrame tells it */
    public function take(array $frame): void
    {
        if (count($this->frames) < $this->most) {
            $this->frames[] = ['at' => (float) ($frame['metadata']['timestamp'] ?? 0), 'data' => (string) base64_decode((string) $frame['data'], true)];
        }
        $this->tab->send('Page.screencastFrameAck', ['sessionId' => $frame['sessionId']]);
    }
}
