<?php

declare(strict_types=1);

namespace Demo\Logs;

use App\Cli\BadUsage;
use App\Cli\CommandLine;

/** `bin/pellix simulate --to=FILE --visitors=N --days=D --seed=S [--fault=NAME[:PARAMETER=VALUE…]]…`: event logs without a server. */
final class Command
{
    private const COLUMNS = ['id', 'visitor', 'user', 'time', 'received', 'name', 'url', 'referrer', 'agent', 'experiment', 'variant', 'props.source', 'props.country', 'props.value', 'props.currency', 'props.order_id', 'props.percent', 'props.path', 'props.internal', 'props.unplanned_thing'];

    /**
     * @param list<string> $arguments
     * @param resource     $out
     * @param resource     $err
     *
     * @return int 0 fine, 2 bad input
     */
    public static function run(array $arguments, $out, $err): int
    {
        try {
            $isFault = static fn (string $argument): bool => str_starts_with($argument, '--fault=');
            $faults = array_map(static fn (string $argument): string => substr($argument, 8), array_values(array_filter($arguments, $isFault)));
            $line = CommandLine::parse(array_values(array_filter($arguments, static fn (string $argument): bool => ! $isFault($argument))), ['to', 'experiment-to', 'visitors', 'days', 'seed', 'weights', 'epochs', 'effect'], ['list-faults']);
            if ($line->has('list-faults')) {
                return self::list($out);
            }
            $settings = self::settings($line, $faults);
            $events = self::write($settings, $line->value('to') ?? '', $out);
            $file = $line->value('experiment-to');
            if ($file !== null && @file_put_contents($file, json_encode($settings->experiment(), JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES)."\n") === false) {
                throw new BadUsage("{$file}: this file cannot be written.");
            }
        } catch (BadUsage|\InvalidArgumentException $e) {
            fwrite($err, "simulate: {$e->getMessage()}\n");

            return 2;
        }
        fwrite($err, 'simulate: '.number_format($events)." events of {$settings->visitors} visitors written.".($line->value('experiment-to') === null ? ' --experiment-to=FILE writes the experiment that goes with them.' : '')."\n");

        return 0;
    }

    /** @param list<string> $faults */
    private static function settings(CommandLine $line, array $faults): Settings
    {
        $whole = static function (string $option, int $otherwise, int $most) use ($line): int {
            $number = filter_var($line->value($option) ?? $otherwise, FILTER_VALIDATE_INT, ['options' => ['min_range' => 1, 'max_range' => $most]]);

            return $number === false ? throw new BadUsage("--{$option} takes a whole number from 1 to {$most}.") : $number;
        };
        if (($line->value('to') ?? '') === '') {
            throw new BadUsage('Say where the log is to be written: --to=FILE, or - for standard output. What ends in .csv is CSV, what ends in .gz packed.');
        }
        $epochs = array_map(self::weights(...), explode('/', $line->value('epochs') ?? $line->value('weights') ?? '50,50'));
        $weights = self::weights($line->value('weights') ?? explode('/', $line->value('epochs') ?? '50,50')[0]);
        foreach ($epochs as $epoch) {
            if (count($epoch) !== count($weights)) {
                throw new BadUsage('--epochs takes as many weights for each epoch as there are variants: 50,50/80,20.');
            }
        }
        $effect = filter_var($line->value('effect') ?? 0.08, FILTER_VALIDATE_FLOAT);

        return new Settings($whole('visitors', 1000, 20_000_000), $whole('days', 28, 400), $whole('seed', 1, PHP_INT_MAX), $weights, $epochs, array_map(Fault::parse(...), $faults), $effect === false ? throw new BadUsage('--effect takes a number, such as 0.08.') : $effect);
    }

    /** @return list<float> */
    private static function weights(string $text): array
    {
        $weights = array_map(static fn (string $word): float => \App\Cli\Number::of(trim($word), '--weights'), explode(',', $text));
        if (count($weights) < 2 || count($weights) > 6 || min($weights) < 0 || array_sum($weights) <= 0) {
            throw new BadUsage('--weights and --epochs take two to six weights that are not negative: 50,50.');
        }

        return $weights;
    }

    /** @param resource $out */
    private static function write(Settings $settings, string $to, $out): int
    {
        $file = $to === '-' ? $out : @fopen(str_ends_with($to, '.gz') ? "compress.zlib://{$to}" : $to, 'w');
        if ($file === false) {
            throw new BadUsage("{$to}: this file cannot be written.");
        }
        $isCsv = preg_match('/\.csv(\.gz)?\z/', $to) === 1;
        $isCsv && fputcsv($file, self::COLUMNS, ',', '"', '', "\r\n");
        $events = 0;
        foreach ((new LogMaker($settings))->events() as $event) {
            $isCsv ? fputcsv($file, self::cells($event), ',', '"', '', "\r\n") : fwrite($file, LogMaker::line($event)."\n");
            $events++;
        }
        $to === '-' || fclose($file);

        return $events;
    }

    /**
     * @param array<string, mixed> $event
     *
     * @return list<string>
     */
    private static function cells(array $event): array
    {
        /** @var array<string, mixed> $row */
        $row = json_decode(LogMaker::line($event), true);
        $cells = [];
        foreach (self::COLUMNS as $column) {
            $value = str_starts_with($column, 'props.') ? ($row['props'][substr($column, 6)] ?? '') : (in_array($column, ['experiment', 'variant'], true) ? ($row['props'][$column] ?? '') : ($row[$column] ?? ''));
            $cells[] = is_bool($value) ? ($value ? 'true' : 'false') : (string) $value;
        }

        return $cells;
    }

    /** @param resource $out */
    private static function list($out): int
    {
        foreach (Faults::ALL as $name => $words) {
            fwrite($out, sprintf("%-16s %s\n", $name, $words));
        }
        fwrite($out, "\nEach takes, after colons: variant, device, browser, source, country (whom it is about), since and until (days from the begin), strength (a part).\nFor example --fault=lose:variant=short:browser=safari:since=10:strength=0.1\n");

        return 0;
    }
}
