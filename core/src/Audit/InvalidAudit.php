<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

use Pellix\Core\InvalidInput;

/** Settings, a mapping or a table of counts that nothing can be audited with. */
final class InvalidAudit extends InvalidInput
{
}
