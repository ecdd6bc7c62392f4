<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Advice;

/** One thing worth a second look, with its reason. */
final readonly class Advice
{
    /** @param string $field of the experiment file, such as `variants.1.changes.0.selector`; of the whole, where nothing stands there yet */
    public function __construct(public AdviceCode $code, public string $field, public string $words)
    {
    }

    /** @return array{code: string, severity: string, link: string, field: string, words: string} */
    public function toArray(): array
    {
        return ['code' => $this->code->value, 'severity' => $this->code->severity()->value, 'link' => $this->code->link()->value, 'field' => $this->field, 'words' => $this->words];
    }
}
