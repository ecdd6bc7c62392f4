<?php

declare(strict_types=1);

namespace App\Notices;

/** Something could not be told now. */
final class NotDelivered extends \RuntimeException
{
    /** @param bool $isFinal whether there is no use in trying again */
    public function __construct(string $message, public readonly ?int $status = null, public readonly bool $isFinal = false)
    {
        parent::__construct($message);
    }
}
