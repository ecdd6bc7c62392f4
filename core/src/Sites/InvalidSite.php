<?php

declare(strict_types=1);

namespace Pellix\Core\Sites;

use Pellix\Core\InvalidInput;

/** Settings that no site can have; the field is the setting's name. */
final class InvalidSite extends InvalidInput
{
}
