<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Shapes\Gap;

/** A page that sent nothing more while its neighbours went on. */
final class GapPage extends VolumeCheck
{
    public function code(): AuditCode
    {
        return AuditCode::GapPage;
    }

    protected function isMine(Gap $gap, Evidence $evidence): bool
    {
        return $gap->isSilence() && $gap->isPage();
    }

    protected function causes(): array
    {
        return ['The page was released without the snippet or its tags.', 'The page was taken away, or has another address now.'];
    }
}
