<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Findings;

/** How grave a finding is. */
enum Severity: string
{
    /** Nothing is measured, or visitors are harmed, as long as it stays. */
    case Blocker = 'blocker';

    /** Something is measured wrongly, or will be under some conditions. */
    case Warning = 'warning';

    /** Worth to know. */
    case Note = 'note';
}
