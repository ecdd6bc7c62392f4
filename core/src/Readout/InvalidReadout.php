<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\InvalidInput;

/** What a readout cannot be made of. */
final class InvalidReadout extends InvalidInput
{
}
