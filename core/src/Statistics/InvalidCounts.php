<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

use Pellix\Core\InvalidInput;

/** Counts or weights that no sample ratio can be tested with. */
final class InvalidCounts extends InvalidInput
{
}
