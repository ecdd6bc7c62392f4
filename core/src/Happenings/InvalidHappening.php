<?php

declare(strict_types=1);

namespace Pellix\Core\Happenings;

use Pellix\Core\InvalidInput;

/** Something that could never happen on a page, or never be recognised. */
final class InvalidHappening extends InvalidInput
{
}
