<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Assignment\Assigner;
use Pellix\Core\Experiments\Experiment;

/** `bin/pellix assign --experiment=FILE --json` : unit ids on standard input, one a line, to NDJSON. */
final class AssignCommand
{
    private const LONGEST_LINE = 1024;

    /**
     * @param list<string> $arguments
     * @param resource     $in
     * @param resource     $out
     * @param resource     $err
     *
     * @return int 0 fine, 2 bad input; units that can be assigned are, even where others cannot
     */
    public static function run(array $arguments, $in, $out, $err): int
    {
        try {
            $line = CommandLine::parse($arguments, ['experiment'], ['json']);
            $assigner = self::experiment($line->value('experiment') ?? '')->assigner();
        } catch (BadUsage $e) {
            fwrite($err, "assign: {$e->getMessage()}\n");

            return 2;
        }

        return self::assign($assigner, $line->has('json'), $in, $out, $err);
    }

    private static function experiment(string $file): Experiment
    {
        if ($file === '') {
            throw new BadUsage('Name the experiment file: --experiment=FILE');
        }

        return JsonFile::read($file, Experiment::read(...));
    }

    /**
     * @param resource $in
     * @param resource $out
     * @param resource $err
     */
    private static function assign(Assigner $assigner, bool $json, $in, $out, $err): int
    {
        $exit = 0;
        for ($number = 1; ($line = fgets($in)) !== false; $number++) {
            $unit = rtrim($line, "\r\n");
            $complaint = match (true) {
                $unit === '' => 'the line is empty; a unit id is needed',
                strlen($unit) > self::LONGEST_LINE => 'the unit id is longer than '.self::LONGEST_LINE.' bytes',
                ! mb_check_encoding($unit, 'UTF-8') => 'the unit id is not UTF-8',
                default => null,
            };
            if ($complaint !== null) {
                fwrite($err, "assign: standard input: line {$number}: {$complaint}\n");
                $exit = 2;
                continue;
            }
            $assignment = $assigner->assign($unit);
            fwrite($out, $json
                ? json_encode(['unit' => $unit, 'in' => $assignment->in, 'variant' => $assignment->variant, 'bucket' => $assignment->bucket], JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES)."\n"
                : "{$unit}\t".($assignment->variant ?? '(out)')."\t{$assignment->bucket}\n");
        }

        return $exit;
    }
}
