<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

use Pellix\Core\InvalidInput;

/** A file of another source, or a mapping of its columns, that nothing can be held against. */
final class InvalidOther extends InvalidInput
{
}
