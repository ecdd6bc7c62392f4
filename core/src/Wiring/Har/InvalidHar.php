<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Har;

use Pellix\Core\InvalidInput;

/** A file that is no HAR capture. */
final class InvalidHar extends InvalidInput
{
    /** The line of the file, from 1. */
    public int $line = 1;

    public static function at(int $line, string $message, string $field): self
    {
        $complaint = new self($message, $field);
        $complaint->line = $line;

        return $complaint;
    }
}
