<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\InvalidInput;

/** An experiment that cannot be read or could never run. */
final class InvalidExperiment extends InvalidInput
{
}
