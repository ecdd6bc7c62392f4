<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

/** Which audit this is: two audits of the same events by the same engine say the same. */
final class Engine
{
    /** Raised whenever a check, a threshold or what is counted changes. */
    public const VERSION = 3;
}
