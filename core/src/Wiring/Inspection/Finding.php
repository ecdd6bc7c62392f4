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
     * @param string|null                   $paste    text to put onto the page
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
        public ?string $paste = null,
    ) {
    }

    public function withPaste(?string $paste): self
    {
        return new self($this->code, $this->severity, $this->line, $this->column, $this->excerpt, $this->message, $this->fix, $this->tag, $paste);
    }

    /** @return array{code: string, severity: string, line: int, column: int, excerpt: string, message: string, fix: string, paste?: string} */
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
            ...($this->paste === null ? [] : ['paste' => $this->paste]),
        ];
    }
}
