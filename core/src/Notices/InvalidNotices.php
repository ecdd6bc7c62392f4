<?php

declare(strict_types=1);

namespace Pellix\Core\Notices;

use Pellix\Core\InvalidInput;

/** Settings of what somebody is told that make no sense. */
final class InvalidNotices extends InvalidInput
{
}
