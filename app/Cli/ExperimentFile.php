<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Audit\Settings;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Formats\Fields;

/** An experiment file, and what its member `audit` says. */
final class ExperimentFile
{
    /**
     * @return array{Experiment, Settings}
     *
     * @throws BadUsage
     */
    public static function read(string $file): array
    {
        return JsonFile::read($file, static fn (mixed $json): array => [
            Experiment::read($json),
            Fields::within('audit', static fn (): Settings => Settings::read(is_array($json) ? ($json['audit'] ?? null) : null), InvalidAudit::class),
        ]);
    }

    /** @throws BadUsage */
    public static function setup(string $file): Setup
    {
        [$experiment, $settings] = self::read($file);
        try {
            return new Setup($experiment, null, null, $settings);
        } catch (InvalidAudit $e) {
            throw new BadUsage("{$file}: field {$e->field}: {$e->getMessage()}");
        }
    }
}
