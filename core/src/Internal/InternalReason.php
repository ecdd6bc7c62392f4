<?php

declare(strict_types=1);

namespace Pellix\Core\Internal;

/** By what an event was known as one of the site's own people or machines. */
enum InternalReason: string
{
    case Address = 'address';
    case Agent = 'agent';
    case Mark = 'mark';
    case Rule = 'rule';

    public function label(): string
    {
        return match ($this) {
            self::Address => 'Address',
            self::Agent => 'User agent',
            self::Mark => 'Marked browser',
            self::Rule => 'Rule',
        };
    }
}
