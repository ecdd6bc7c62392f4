<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Har;

use Pellix\Core\InvalidInput;

/** A file that is no HAR capture. */
final class InvalidHar extends InvalidInput
{
}
