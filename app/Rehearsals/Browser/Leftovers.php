<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

/** Ends what is left of a browser, by the folder that its processes were given, and deletes the folder. */
final class Leftovers
{
    private const SECONDS = 5;

    /** @param string $folder of one browser, or one that holds those of several */
    public static function end(string $folder, bool $keepsProfile = false): void
    {
        $until = microtime(true) + self::SECONDS;
        while (($left = self::processes($folder)) !== [] && microtime(true) < $until) {
            foreach ($left as $process) {
                posix_kill($process, SIGKILL);
            }
            usleep(50_000);
        }
        self::delete($folder, $keepsProfile ? "{$folder}/profile" : null);
    }

    /** @return list<int> numbers of this user's processes that name the folder, in their command or in their environment */
    public static function processes(string $folder): array
    {
        $found = [];
        foreach (glob('/proc/[0-9]*', GLOB_NOSORT) ?: [] as $process) {
            $number = (int) basename($process);
            // What a process was started with is its own user's to read; it may have ended meanwhile.
            if ($number === getmypid() || ! is_readable("{$process}/environ")) {
                continue;
            }
            $said = @file_get_contents("{$process}/cmdline").@file_get_contents("{$process}/environ");
            if (str_contains($said, Chromium::MARK."={$folder}") || str_contains($said, "--user-data-dir={$folder}")) {
                $found[] = $number;
            }
        }

        return $found;
    }

    private static function delete(string $path, ?string $kept): void
    {
        if ($path === $kept) {
            return;
        }
        if (is_link($path) || ! is_dir($path)) {
            @unlink($path);

            return;
        }
        foreach (@scandir($path) ?: [] as $name) {
            $name === '.' || $name === '..' || self::delete("{$path}/{$name}", $kept);
        }
        @rmdir($path);
    }
}
