<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

use Pellix\Core\InvalidInput;

/** Something that no plan can be made with. */
final class InvalidAssumption extends InvalidInput
{
}
