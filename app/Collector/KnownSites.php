<?php

declare(strict_types=1);

namespace App\Collector;

/** What was read of a site a moment ago: every beacon needs it, and it changes once in a while. */
final readonly class KnownSites
{
    /** So long it counts, in seconds. */
    private const SECONDS = 1;

    /** @param string $folder in memory */
    public function __construct(private string $folder)
    {
    }

    /** @return array{id: int, key: string, hosts: list<string>, parameters: list<string>, internal: string, ended: bool}|null */
    public function get(string $key): ?array
    {
        $text = @file_get_contents("{$this->folder}/known-{$key}");
        [$then, $json] = explode(' ', $text === false ? '' : $text, 2) + [1 => ''];
        /** @var array{id: int, key: string, hosts: list<string>, parameters: list<string>, internal: string, ended: bool}|null $site */
        $site = $then !== '' && abs(microtime(true) - (float) $then) < self::SECONDS ? json_decode($json, true) : null;

        return $site;
    }

    /** @param array{id: int, key: string, hosts: list<string>, parameters: list<string>, internal: string, ended: bool} $site */
    public function keep(string $key, array $site): void
    {
        $file = "{$this->folder}/known-{$key}";
        $new = "{$file}.".bin2hex(random_bytes(4));
        // Put in its place whole, so that nobody reads half of it.
        @file_put_contents($new, sprintf('%.3f ', microtime(true)).json_encode($site, JSON_THROW_ON_ERROR)) !== false && @rename($new, $file);
    }
}
