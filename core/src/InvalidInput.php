<?php

declare(strict_types=1);

namespace Pellix\Core;

/**
 * Bad input, with the place it was found in.
 *
 * `$field` is a path from the root of the thing that was read (`variants.1.weight`), or '' for the thing as a whole.
 * The message says what is wrong and what would be right; it never repeats the path.
 */
abstract class InvalidInput extends \InvalidArgumentException
{
    final public function __construct(string $message, public readonly string $field = '')
    {
        parent::__construct($message);
    }

    /** The same complaint, seen from a thing that holds the one that was read under `$prefix`. */
    final public function under(string $prefix): static
    {
        return new static($this->getMessage(), trim("{$prefix}.{$this->field}", '.'));
    }
}
