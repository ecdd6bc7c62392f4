<?php

declare(strict_types=1);

namespace Pellix\Core\Assignment;

use Pellix\Core\InvalidInput;

/** A salt, a share, a weight or a unit id that nobody could be assigned with. */
final class InvalidAssignment extends InvalidInput
{
}
