<?php

declare(strict_types=1);

namespace Pellix\Core\Loupe;

/** What a link to the Loupe, our companion in the site's own page, is for. */
enum Purpose: string
{
    /** To see what happens on a page: for whoever works on the site, under their own name. */
    case Look = 'look';

    /** To see variants of one experiment: for somebody who has nothing installed and no account. */
    case Preview = 'preview';

    /** Whether it shows what happened and why, beside letting somebody try variants. */
    public function shows(): bool
    {
        return $this === self::Look;
    }
}
