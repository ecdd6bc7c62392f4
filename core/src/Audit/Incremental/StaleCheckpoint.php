<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Incremental;

/** A checkpoint that an audit cannot go on from: everything is to be read again. */
final class StaleCheckpoint extends \RuntimeException
{
}
