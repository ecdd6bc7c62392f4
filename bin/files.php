<?php

declare(strict_types=1);

/* The commands that work on files alone: no framework, no database, no server. */

require dirname(__DIR__).'/vendor/autoload.php';

[, $command] = $argv;

set_exception_handler(static function (Throwable $e) use ($command): void {
    fwrite(STDERR, "{$command}: this failed, and should not have: {$e->getMessage()} (".basename($e->getFile()).", line {$e->getLine()}).\n");
    exit(3);
});

exit(match ($command) {
    'srm' => App\Cli\SrmCommand::run(array_slice($argv, 2), STDOUT, STDERR),
    'plan' => App\Cli\PlanCommand::run(array_slice($argv, 2), STDOUT, STDERR),
    'inspect' => App\Cli\InspectCommand::run(array_slice($argv, 2), STDOUT, STDERR),
    'goals' => App\Cli\GoalsCommand::run(array_slice($argv, 2), STDIN, STDOUT, STDERR),
    'audit' => App\Cli\AuditCommand::run(array_slice($argv, 2), STDIN, STDOUT, STDERR),
    'readout' => App\Cli\ReadoutCommand::run(array_slice($argv, 2), STDIN, STDOUT, STDERR),
    'reconcile' => App\Cli\ReconcileCommand::run(array_slice($argv, 2), STDIN, STDOUT, STDERR),
    'assign' => App\Cli\AssignCommand::run(array_slice($argv, 2), STDIN, STDOUT, STDERR),
    default => 2,
});
