<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring;

use Pellix\Core\InvalidInput;

/** A setting of snippet, guard or expectations that cannot be. */
final class InvalidWiring extends InvalidInput
{
}
