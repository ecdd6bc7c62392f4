<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Wiring\Findings\FindingCode;
use Pellix\Core\Wiring\Findings\Severity;

/** A finding whose place is still an offset. */
final readonly class Draft
{
    /** @param int $offset in bytes */
    public function __construct(
        public FindingCode $code,
        public int $offset,
        public string $message,
        public string $fix,
        public ?string $tag = null,
        public ?Severity $severity = null,
    ) {
    }
}
