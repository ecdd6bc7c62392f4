<?php

declare(strict_types=1);

namespace App\Cli;

/** Lines that were read, their rate and the time that is left, for people who wait at a terminal. */
final class LogProgress
{
    private const QUIET_SECONDS = 5;

    /**
     * @param resource $err
     *
     * @return callable(int): void
     */
    public static function of(string $command, string $file, $err): callable
    {
        if (! stream_isatty($err)) {
            return static fn (int $lines) => null;
        }
        $begin = $told = microtime(true);
        $stream = $file === '-' || ! is_file($file) ? false : fopen($file, 'r');
        $sample = $stream === false ? '' : (string) fread($stream, 1 << 20);
        $each = strlen($sample) / max(1, substr_count($sample, "\n"));
        $all = $stream === false || str_starts_with($sample, "\x1f\x8b") ? null : (int) ((fstat($stream)['size'] ?? 0) / max(1, $each));

        return static function (int $lines) use ($begin, &$told, $all, $err, $command): void {
            $now = microtime(true);
            if ($now - $told < self::QUIET_SECONDS) {
                return;
            }
            $told = $now;
            $rate = $lines / ($now - $begin);
            $left = $all === null ? '' : ', about '.max(1, (int) round(2 * ($all - $lines) / max(1, $rate))).' s left';
            fwrite($err, "{$command}: ".number_format($lines).' lines read, '.number_format($rate)." a second{$left}\n");
        };
    }
}
