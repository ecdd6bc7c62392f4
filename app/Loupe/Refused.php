<?php

declare(strict_types=1);

namespace App\Loupe;

/** The Loupe is not opened: the page stays as it is for everybody. */
final class Refused extends \RuntimeException
{
}
