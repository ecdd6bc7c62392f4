<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

/** Something that an inspection found, with its place in the HTML text and what to do about it. */
final readonly class Finding
{
    /**
     * @param string                        $code     `area.what`
     * @param 'blocker'|'warning'|'note'    $severity
     * @param int                           $line     from 1
     * @param int                           $column   from 1, in characters
     * @param string                        $excerpt  the text at that place; escape it before it is shown
     * @param string                        $message  why it matters
     * @param string                        $fix      what to do
     * @param string|null                   $tag      key of the expected tag that it is about
     */
    public function __construct(
        public string $code,
        public string $severity,
        public int $line,
        public int $column,
        public string $excerpt,
        public string $message,
        public string $fix,
        public ?string $tag = null,
    ) {
    }

    /** @return array{code: string, severity: string, line: int, column: int, excerpt: string, message: string, fix: string} */
    public function toArray(): array
    {
        return [
            'code' => $this->code,
            'severity' => $this->severity,
            'line' => $this->line,
            'column' => $this->column,
            'excerpt' => $this->excerpt,
            'message' => $this->message,
            'fix' => $this->fix,
        ];
    }
}
