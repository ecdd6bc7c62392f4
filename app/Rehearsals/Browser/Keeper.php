<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

use Closure;

/** The browser of a rehearsal: started when it is needed, and anew after one that has ended. */
final class Keeper
{
    private ?Chromium $chromium = null;

    /**
     * @param string $folder that the browsers' own folders lie in
     * @param Closure(): array<string, string> $hosts where they may go
     */
    public function __construct(private readonly string $folder, private readonly Closure $hosts)
    {
    }

    public function get(): Chromium
    {
        return $this->chromium ??= Chromium::start("{$this->folder}/".bin2hex(random_bytes(4)), ($this->hosts)());
    }

    public function end(): void
    {
        $this->chromium?->end();
        $this->chromium = null;
    }
}
