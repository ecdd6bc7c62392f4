<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

use Pellix\Core\InvalidInput;

/** A goal that could never count. */
final class InvalidGoal extends InvalidInput
{
}
