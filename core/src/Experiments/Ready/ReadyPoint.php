<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Ready;

/** One point of the ready list, with its evidence. */
final readonly class ReadyPoint
{
    /**
     * @param string                  $words    what was seen, or is missing
     * @param \DateTimeImmutable|null $at       when that was seen
     * @param string|null             $subject  which of several things it is about: the key of a goal
     * @param list<string>            $examples addresses
     */
    public function __construct(public ReadyCode $code, public ReadyState $state, public string $words, public ?\DateTimeImmutable $at = null, public ?string $subject = null, public array $examples = [])
    {
    }

    /** @return array{code: string, label: string, link: string|null, state: string, words: string, at: string|null, mended_at: string, subject: string|null, examples: list<string>} */
    public function toArray(): array
    {
        return [
            'code' => $this->code->value, 'label' => $this->code->label(), 'link' => $this->code->link()?->value, 'state' => $this->state->value,
            'words' => $this->words, 'at' => $this->at?->format('Y-m-d\TH:i:s\Z'), 'mended_at' => $this->code->mendedAt(), 'subject' => $this->subject, 'examples' => $this->examples,
        ];
    }
}
