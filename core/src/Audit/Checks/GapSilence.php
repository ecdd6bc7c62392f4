<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Shapes\Gap;

/** No events of a kind for so long that chance does not give it. */
final class GapSilence extends VolumeCheck
{
    public function code(): AuditCode
    {
        return AuditCode::GapSilence;
    }

    protected function isMine(Gap $gap, Evidence $evidence): bool
    {
        return $gap->isSilence() && ! $gap->isPage();
    }

    protected function causes(): array
    {
        return ['The collector could not be reached, or an export has a hole.', 'A release has taken the tag away, or a policy, a blocker or a browser’s update keeps it from sending.'];
    }
}
