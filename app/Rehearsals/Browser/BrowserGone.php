<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

/** The browser, or the page that was spoken to, has ended. */
final class BrowserGone extends \RuntimeException
{
}
