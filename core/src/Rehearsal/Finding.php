<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Wiring\Findings\Severity;

/** Something that does not work, as a browser met it: what, why, and what to do. */
final readonly class Finding
{
    private const LONGEST = 1000;

    public Severity $severity;

    public string $words;

    public string $cause;

    /**
     * @param string               $words    the consequence, a sentence
     * @param string               $cause    why, where it is known; empty where it is not
     * @param string               $next     what to do
     * @param string|null          $variant  key of the variant that it was met in; null for all
     * @param string|null          $goal     key of the goal that it is about
     * @param array<string, mixed> $evidence figures and excerpts; escape them before they are shown
     */
    public function __construct(
        public CheckCode $code,
        string $words,
        string $cause = '',
        public string $next = '',
        public ?string $variant = null,
        public ?Screen $screen = null,
        public ?string $goal = null,
        public array $evidence = [],
        ?Severity $severity = null,
    ) {
        $this->severity = $severity ?? $code->severity();
        $this->words = mb_strcut(mb_scrub($words, 'UTF-8'), 0, self::LONGEST, 'UTF-8');
        $this->cause = mb_strcut(mb_scrub($cause, 'UTF-8'), 0, self::LONGEST, 'UTF-8');
    }

    /** What tells it from others, from one rehearsal to the next. */
    public function identity(): string
    {
        return implode('|', [$this->code->value, $this->variant, $this->screen?->value, $this->goal, json_encode($this->evidence['change'] ?? $this->evidence['step'] ?? '', JSON_PARTIAL_OUTPUT_ON_ERROR)]);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'code' => $this->code->value,
            'severity' => $this->severity->value,
            'link' => $this->code->link()->value,
            'words' => $this->words,
            'cause' => $this->cause,
            'next' => $this->next,
            'variant' => $this->variant,
            'screen' => $this->screen?->value,
            'goal' => $this->goal,
            'identity' => $this->identity(),
            'evidence' => (object) $this->evidence,
        ];
    }
}
