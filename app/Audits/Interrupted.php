<?php

declare(strict_types=1);

namespace App\Audits;

use Exception;

/** Somebody cancelled the audit, or Pellix stops and it will be made later. */
final class Interrupted extends Exception
{
    public function __construct(public readonly bool $isCancelled)
    {
        parent::__construct($isCancelled ? 'cancelled' : 'stopping');
    }
}
