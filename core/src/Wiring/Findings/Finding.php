<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Findings;

/** Something that an inspection found, with its place in the HTML text and what to do about it. */
final readonly class Finding
{
    public FindingCode $kind;

    /** `area.what` */
    public string $code;

    /** @var 'blocker'|'warning'|'note' */
    public string $severity;

    /**
     * @param int                           $line     from 1
     * @param int                           $column   from 1, in characters
     * @param string                        $excerpt  the text at that place; escape it before it is shown
     * @param string                        $message  why it matters
     * @param string                        $fix      what to do
     * @param string|null                   $tag      key of the expected tag that it is about
     * @param string|null                   $paste    text to put onto the page
     * @param Severity|null                 $severity where it is not the code's own
     */
    public function __construct(
        FindingCode $code,
        public int $line,
        public int $column,
        public string $excerpt,
        public string $message,
        public string $fix,
        public ?string $tag = null,
        public ?string $paste = null,
        ?Severity $severity = null,
    ) {
        $this->kind = $code;
        $this->code = $code->value;
        $this->severity = ($severity ?? $code->severity())->value;
    }

    public function withPaste(?string $paste): self
    {
        return new self($this->kind, $this->line, $this->column, $this->excerpt, $this->message, $this->fix, $this->tag, $paste, Severity::from($this->severity));
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
