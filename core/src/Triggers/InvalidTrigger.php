<?php

declare(strict_types=1);

namespace Pellix\Core\Triggers;

use Pellix\Core\InvalidInput;

/** A trigger that could never be set off. */
final class InvalidTrigger extends InvalidInput
{
}
