<?php

declare(strict_types=1);

namespace Pellix\Core\SignIn;

/**
 * The name of an account: an e-mail address, compared as it is written. `ínes` is not `ines`; only A to Z count as a to z, since
 * keyboards begin with a capital by themselves and no mail server tells the two apart.
 */
final class AccountName
{
    /** Bytes; RFC 5321, section 4.5.3.1.3, less the angle brackets. */
    public const LONGEST = 254;

    public static function of(string $typed): string
    {
        return strtolower(trim($typed));
    }
}
