<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\InvalidInput;

/** A tracking plan that cannot be used. */
final class InvalidPlan extends InvalidInput
{
}
