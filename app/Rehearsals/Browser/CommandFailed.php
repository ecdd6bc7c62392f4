<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

/** The browser refused a command, or did not answer it in time. */
final class CommandFailed extends \RuntimeException
{
    public function __construct(string $message, public readonly bool $timedOut = false)
    {
        parent::__construct($message);
    }
}
