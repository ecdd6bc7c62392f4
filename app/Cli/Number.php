<?php

declare(strict_types=1);

namespace App\Cli;

/** A number on a command line. */
final class Number
{
    /** @throws BadUsage */
    public static function of(string $word, string $option): float
    {
        if (preg_match('/\A-?(\d{1,15}(\.\d*)?|\.\d+)([eE][+-]?\d{1,3})?\z/', $word) !== 1) {
            throw new BadUsage("{$option}: \"{$word}\" is no number.");
        }

        return (float) $word;
    }
}
