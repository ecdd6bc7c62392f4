<?php

declare(strict_types=1);

namespace App\Rehearsals;

use Pellix\Core\Experiments\Change;

/** Our own scripts that are run on a page. Each file holds one function, or what is put before a page's own scripts. */
final class Probe
{
    /** The function of a file, to be called. */
    public static function named(string $name): string
    {
        return '('.rtrim((string) preg_replace('~\A/\*.*?\*/~s', '', self::text($name)), " \n;").')';
    }

    /** An expression that calls the function of a file; what it is called with is JSON. */
    public static function call(string $name, mixed ...$with): string
    {
        return self::named($name).'('.implode(', ', array_map(self::json(...), $with)).')';
    }

    /**
     * Follows a page from its first moment, and can be asked what became of the changes.
     *
     * @param list<Change> $changes
     */
    public static function watch(array $changes): string
    {
        $plan = self::json(['changes' => array_map(static fn (Change $change): array => $change->toArray(), $changes)]);

        return "const pellixPlan = {$plan};\n".self::text('changes')."\n".self::text('watch')."\nglobalThis.pellixWatch = pellixWatch;";
    }

    public static function text(string $name): string
    {
        static $texts = [];

        return $texts[$name] ??= (string) file_get_contents(__DIR__."/Probes/{$name}.js");
    }

    public static function json(mixed $value): string
    {
        return json_encode($value, JSON_THROW_ON_ERROR | JSON_HEX_TAG | JSON_INVALID_UTF8_SUBSTITUTE);
    }
}
