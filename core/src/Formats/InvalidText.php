<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

use Pellix\Core\InvalidInput;

/** A text that cannot be read; its field is the number of the line. */
final class InvalidText extends InvalidInput
{
}
