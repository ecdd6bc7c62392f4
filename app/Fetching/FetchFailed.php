<?php

declare(strict_types=1);

namespace App\Fetching;

/** A page that could not be fetched, or may not be. The message is for whoever asked for it. */
final class FetchFailed extends \RuntimeException
{
}
