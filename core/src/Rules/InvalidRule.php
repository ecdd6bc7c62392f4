<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

use Pellix\Core\InvalidInput;

/** A rule that cannot be read, or that cannot be evaluated where it is wanted. */
final class InvalidRule extends InvalidInput
{
}
