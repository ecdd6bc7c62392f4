<?php

declare(strict_types=1);

namespace Pellix\Core\SignIn;

use Pellix\Core\InvalidInput;

/** Settings with which no one-time code can be made. */
final class InvalidSecret extends InvalidInput
{
}
