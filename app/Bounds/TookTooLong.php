<?php

namespace App\Bounds;

final class TookTooLong extends \RuntimeException
{
    public function __construct(public readonly int $seconds)
    {
        parent::__construct("This takes more than {$seconds} seconds, and was ended.");
    }
}
