<?php

declare(strict_types=1);

namespace Pellix\Core\Internal;

use Pellix\Core\InvalidInput;

/** Rules about internal traffic that cannot be kept; the field says where. */
final class InvalidInternal extends InvalidInput
{
}
