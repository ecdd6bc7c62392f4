<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Formats\InvalidJson;
use Pellix\Core\Formats\JsonDocument;
use Pellix\Core\InvalidInput;

/** Reads a JSON file with a reader of the core's; what is wrong is told with file, line and field. */
final class JsonFile
{
    private const MOST_BYTES = 20_000_000;

    /**
     * @template T
     *
     * @param callable(mixed): T $reader
     *
     * @return T
     *
     * @throws BadUsage
     */
    public static function read(string $file, callable $reader): mixed
    {
        try {
            $document = JsonDocument::parse(self::text($file));
        } catch (InvalidJson $e) {
            throw new BadUsage("{$file}: {$e->getMessage()}");
        }
        try {
            return $reader($document->value);
        } catch (InvalidInput $e) {
            $field = $e->field === '' ? '' : " field {$e->field}:";
            throw new BadUsage("{$file}: line {$document->lineOf($e->field)}:{$field} {$e->getMessage()}");
        }
    }

    /** @throws BadUsage */
    public static function text(string $file): string
    {
        if (is_file($file) && filesize($file) > self::MOST_BYTES) {
            throw new BadUsage("{$file}: a file of this kind may have ".number_format(self::MOST_BYTES / 1_000_000).' MB.');
        }
        $text = is_file($file) && is_readable($file) ? file_get_contents($file) : false;

        return $text === false ? throw new BadUsage("{$file}: this file cannot be read.") : $text;
    }
}
