<?php

declare(strict_types=1);

namespace App\Cli;

use App\Bounds\TimeLimit;
use App\Bounds\TookTooLong;
use Pellix\Core\Formats\InvalidJson;
use Pellix\Core\Wiring\Findings\Finding;
use Pellix\Core\Wiring\Har\Capture;
use Pellix\Core\Wiring\Har\CaptureInspector;
use Pellix\Core\Wiring\Har\InvalidHar;
use Pellix\Core\Wiring\Inspection\Delivery;
use Pellix\Core\Wiring\Inspection\Expectation;
use Pellix\Core\Wiring\Inspection\Inspector;
use Pellix\Core\Wiring\Inspection\Report;
use Pellix\Core\Wiring\InvalidWiring;

/** `bin/pellix inspect FILE|DIRECTORY|FILE.har --key=plx_… [--expect=FILE] --json` */
final class InspectCommand
{
    /** A file that takes longer is given up, and the next one is looked at. */
    private const LONGEST_SECONDS = 60;

    private const MOST_BYTES = 5_000_000;

    /**
     * @param list<string> $arguments
     * @param resource     $out
     * @param resource     $err
     *
     * @return int 0 fine, 1 a blocker was found, 2 bad input; pages that can be inspected are, even where others cannot
     */
    public static function run(array $arguments, $out, $err): int
    {
        try {
            $line = CommandLine::parse($arguments, ['key', 'expect'], ['json']);
            $expected = self::expectation($line);
            $closed = [];
            $files = self::files($line->words, $closed);
        } catch (BadUsage $e) {
            fwrite($err, "inspect: {$e->getMessage()}\n");

            return 2;
        }
        $exit = $closed === [] ? 0 : 2;
        foreach ($closed as $folder) {
            fwrite($err, "inspect: {$folder}: this folder cannot be read.\n");
        }
        foreach ($files as $file) {
            try {
                [$report, $more] = self::inspected($file, $expected);
                fwrite($out, $line->has('json') ? self::json($file, $report, $more) : self::words($file, $report));
                $exit = max($exit, $report->verdict() === 'broken' ? 1 : 0);
            } catch (BadUsage $e) {
                fwrite($err, "inspect: {$e->getMessage()}\n");
                $exit = 2;
            }
        }

        return $exit;
    }

    /** @return array{Report, array<string, mixed>} what was found, and what more a capture tells */
    private static function inspected(string $file, Expectation $expected): array
    {
        try {
            return TimeLimit::within(self::LONGEST_SECONDS, static fn (): array => self::isCapture($file) ? self::capture($file, $expected) : [Inspector::inspectFile($file, self::bytes($file), $expected), []]);
        } catch (TookTooLong) {
            return [new Report([Delivery::tooCostly($file)]), []];
        }
    }

    private static function expectation(CommandLine $line): Expectation
    {
        $key = $line->value('key') ?? throw new BadUsage('Say whose snippet is looked for: --key=plx_…');
        $file = $line->value('expect');
        try {
            return $file === null ? Expectation::of($key) : JsonFile::read($file, static fn (mixed $json): Expectation => Expectation::read($key, $json));
        } catch (InvalidWiring $e) {
            throw new BadUsage("--{$e->field}: {$e->getMessage()}");
        }
    }

    /**
     * @param list<string> $words
     * @param list<string> $closed folders that cannot be opened
     *
     * @return list<string>
     */
    private static function files(array $words, array &$closed): array
    {
        if (count($words) !== 1) {
            throw new BadUsage('Name one file or one folder with pages.');
        }
        [$path] = $words;
        if (! is_dir($path)) {
            return [$path];
        }
        $files = [];
        // A folder that cannot be opened is named, and the rest goes on.
        $walk = static function (string $folder) use (&$walk, &$files, &$closed): void {
            $names = @scandir($folder);
            if ($names === false) {
                $closed[] = $folder;

                return;
            }
            foreach (array_diff($names, ['.', '..']) as $name) {
                $path = rtrim($folder, '/')."/{$name}";
                if (is_dir($path) && ! is_link($path)) {
                    $walk($path);
                } elseif (preg_match('/\.(html?|xht|xhtml|har)\z/i', $name) === 1) {
                    $files[] = $path;
                }
            }
        };
        $walk($path);
        sort($files);

        return $files === [] ? throw new BadUsage("{$path}: this folder has no .html, .htm, .xhtml or .har file.") : $files;
    }

    private static function isCapture(string $file): bool
    {
        return str_ends_with(strtolower($file), '.har');
    }

    /** @return array{Report, array<string, mixed>} */
    private static function capture(string $file, Expectation $expected): array
    {
        $stream = is_file($file) && is_readable($file) ? fopen($file, 'r') : false;
        if ($stream === false) {
            throw new BadUsage("{$file}: this file cannot be read.");
        }
        try {
            [$report, $calls] = CaptureInspector::inspect(Capture::read($stream), $expected);
        } catch (InvalidHar $e) {
            throw new BadUsage("{$file}: line {$e->line}: field {$e->field}: {$e->getMessage()}");
        } catch (InvalidJson $e) {
            throw new BadUsage("{$file}: {$e->getMessage()}");
        } finally {
            fclose($stream);
        }

        return [$report, ['calls' => $calls]];
    }

    private static function bytes(string $file): string
    {
        if (is_file($file) && filesize($file) > self::MOST_BYTES) {
            throw new BadUsage("{$file}: a page may have ".self::MOST_BYTES.' bytes.');
        }

        return JsonFile::text($file);
    }

    /** @param array<string, mixed> $more */
    private static function json(string $file, Report $report, array $more): string
    {
        return json_encode(['source' => $file, ...$report->toArray(), ...$more], JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE)."\n";
    }

    private static function words(string $file, Report $report): string
    {
        $lines = array_map(
            static fn (Finding $f): string => "{$file}:{$f->line}:{$f->column}: {$f->severity} {$f->code}: {$f->message} {$f->fix}\n",
            $report->findings,
        );

        return $lines === [] ? "{$file}: sound\n" : implode('', $lines);
    }
}
