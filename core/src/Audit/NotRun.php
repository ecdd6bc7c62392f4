<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

/** A check that cannot say anything, and which data it lacks. */
final class NotRun extends \RuntimeException
{
}
