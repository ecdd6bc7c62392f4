<?php

declare(strict_types=1);

namespace Pellix\Core\Notices;

use Pellix\Core\Wiring\Findings\Severity;

/** Of which troubles somebody wants to be told. */
enum Wish: string
{
    case Nothing = 'nothing';

    /** What spoils the data: decisions on it would be wrong. */
    case Blockers = 'blockers';

    case Everything = 'everything';

    public function label(): string
    {
        return match ($this) {
            self::Nothing => 'No trouble',
            self::Blockers => 'Blockers: what spoils the data',
            self::Everything => 'Every trouble',
        };
    }

    public function includes(Severity $severity): bool
    {
        return match ($this) {
            self::Nothing => false,
            self::Blockers => $severity === Severity::Blocker,
            self::Everything => true,
        };
    }
}
