<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Wiring\Findings\Finding;

use Pellix\Core\Wiring\Findings\FindingCode;

use Pellix\Core\Wiring\Findings\Severity;

/** Makes findings at offsets of one HTML text: works out line, column and excerpt. */
final readonly class Places
{
    private const EXCERPT = 160;

    public function __construct(private string $html)
    {
    }

    /** @param Severity|null $severity where it is not the code's own */
    public function finding(FindingCode $code, int $offset, string $message, string $fix, ?string $tag = null, ?Severity $severity = null): Finding
    {
        $before = substr($this->html, 0, $offset);
        $lineStart = (int) strrpos("\n{$before}", "\n");

        return new Finding(
            $code,
            substr_count($before, "\n") + 1,
            mb_strlen(substr($before, $lineStart), 'UTF-8') + 1,
            mb_strcut($this->html, $offset, self::EXCERPT, 'UTF-8'),
            $message,
            $fix,
            $tag,
            null,
            $severity,
        );
    }
}
