<?php

declare(strict_types=1);

namespace Pellix\Core\Internal;

/** What a link leaves in a browser, so that whoever sits at it is known as one of the site's own people. */
final readonly class Mark
{
    /** @param string $token 20 of a-z and 0-9 */
    public function __construct(public string $name, public string $token)
    {
    }
}
