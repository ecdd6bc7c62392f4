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

    /** To change what one variant of a draft shows, on the page: for one person, under their own name. */
    case Change = 'change';

    /** Whether it shows what happened and why, beside letting somebody try variants. */
    public function shows(): bool
    {
        return $this !== self::Preview;
    }

    /** Hours that a link holds at most: what may change something is short. */
    public function mostHours(): int
    {
        return $this === self::Change ? 24 : 720;
    }
}
