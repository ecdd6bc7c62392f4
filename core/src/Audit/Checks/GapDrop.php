<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Shapes\Gap;

/** Fewer events of a kind than expected, for hours. */
final class GapDrop extends VolumeCheck
{
    public function code(): AuditCode
    {
        return AuditCode::GapDrop;
    }

    protected function isMine(Gap $gap, Evidence $evidence): bool
    {
        return ! $gap->isSilence();
    }

    protected function causes(): array
    {
        return ['A part of the events is lost: a collector that is too busy, a page in several versions, one server of several.', 'Fewer people came, and only of this kind.'];
    }
}
