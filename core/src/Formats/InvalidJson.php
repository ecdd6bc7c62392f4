<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

use Pellix\Core\InvalidInput;

/** A text that is not JSON. */
final class InvalidJson extends InvalidInput
{
}
