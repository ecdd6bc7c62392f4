<?php

declare(strict_types=1);

namespace App\Rehearsals;

/** Somebody has cancelled the rehearsal, or Pellix stops. */
final class Interrupted extends \RuntimeException
{
    public function __construct(public readonly bool $isCancelled)
    {
        parent::__construct($isCancelled ? 'cancelled' : 'stopped');
    }
}
