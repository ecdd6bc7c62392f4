<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

/** The place from which on an event log cannot be read any more: what came after it nobody knows. */
final class CutLog extends InvalidLog
{
}
