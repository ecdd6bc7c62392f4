<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Tags;

use Pellix\Core\InvalidInput;

/** A tag, a trigger or a set of tags that cannot be. */
final class InvalidTag extends InvalidInput
{
}
