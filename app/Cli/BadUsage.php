<?php

declare(strict_types=1);

namespace App\Cli;

/** A command line that cannot be carried out. */
final class BadUsage extends \InvalidArgumentException
{
}
