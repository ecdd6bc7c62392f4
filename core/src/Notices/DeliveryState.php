<?php

declare(strict_types=1);

namespace Pellix\Core\Notices;

/** How far it is that somebody is told something. */
enum DeliveryState: string
{
    /** It is tried at its time, also again after it failed. */
    case Waiting = 'waiting';

    case Sent = 'sent';

    /** It failed too often. */
    case GivenUp = 'given-up';

    /** Nobody wants it any more: settings, rights or what is called changed meanwhile. */
    case Dropped = 'dropped';
}
