<?php

declare(strict_types=1);

namespace Tests\Support;

use Symfony\Component\Process\Process;

/** Pages of an invented site on this machine's loopback, for a browser to be sent to. */
final class PageServer
{
    public readonly string $origin;

    private readonly Process $process;

    private readonly string $file;

    /** @param array<string, string|array{list<string>, string}> $pages path => what stands in its body; or headers, and the whole page */
    public function __construct(array $pages, string $host = 'shop.localhost')
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0') ?: throw new \RuntimeException('No port is free.');
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($socket, false), ':'), 1);
        fclose($socket);
        $this->file = (string) tempnam(sys_get_temp_dir(), 'pages');
        file_put_contents($this->file, json_encode($pages, JSON_THROW_ON_ERROR));
        $this->process = new Process([PHP_BINARY, '-S', "127.0.0.1:{$port}", __DIR__.'/pages.php'], null, ['PAGES' => $this->file, 'PHP_CLI_SERVER_WORKERS' => '3'], timeout: null);
        $this->process->start();
        for ($i = 0; $i < 200 && @fsockopen('127.0.0.1', $port) === false; $i++) {
            usleep(20_000);
        }
        $this->origin = "http://{$host}:{$port}";
    }

    /** @return list<string> what was asked for: paths with their queries */
    public function asked(): array
    {
        return file_exists("{$this->file}.asked") ? array_values(array_filter(explode("\n", (string) file_get_contents("{$this->file}.asked")))) : [];
    }

    public function end(): void
    {
        // Its workers are processes of their own, and would go on without it.
        $pid = (int) $this->process->getPid();
        $workers = preg_split('/\s+/', (string) @file_get_contents("/proc/{$pid}/task/{$pid}/children"), -1, PREG_SPLIT_NO_EMPTY) ?: [];
        $this->process->stop(1, SIGKILL);
        array_map(static fn (string $worker): bool => posix_kill((int) $worker, SIGKILL), $workers);
        array_map(unlink(...), array_filter([$this->file, "{$this->file}.asked"], file_exists(...)));
    }
}
