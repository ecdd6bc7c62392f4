<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\InvalidInput;

/** A script of a rehearsal is not what docs/formats.md says. */
final class InvalidScript extends InvalidInput
{
}
