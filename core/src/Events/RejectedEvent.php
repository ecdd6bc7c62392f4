<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\InvalidInput;

/** An event that is not accepted. The field names what is at fault; `reason()` is a stable code such as `event.url`. */
final class RejectedEvent extends InvalidInput
{
    public function reason(): string
    {
        return $this->field === '' ? 'event' : 'event.'.strtok($this->field, '.');
    }
}
