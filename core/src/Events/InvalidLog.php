<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\InvalidInput;

/** A line of an event log that cannot be read. */
class InvalidLog extends InvalidInput
{
}
