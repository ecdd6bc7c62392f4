<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

/** A delivery that is refused whole. */
final class InvalidBeacon extends \InvalidArgumentException
{
    /**
     * @param string      $reason stable code
     * @param int         $status HTTP status of the answer
     * @param string|null $site   the site key, where it could be read
     */
    public function __construct(
        public readonly string $reason,
        public readonly int $status,
        string $message,
        public readonly ?string $site = null,
    ) {
        parent::__construct($message);
    }
}
