<?php

namespace App\Http\Requests;

use Illuminate\Foundation\Http\FormRequest;

class FeedRequest extends FormRequest
{
    private const FILTERS = ['page', 'event', 'experiment', 'variant', 'visitor', 'mine', 'rehearsal', 'preview', 'own'];

    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            ...array_fill_keys(self::FILTERS, ['nullable', 'string', 'max:200', 'ascii']),
            'page' => ['nullable', 'string', 'max:200'],
            'after' => ['nullable', 'integer', 'min:0'],
            'after_rejected' => ['nullable', 'integer', 'min:0'],
        ];
    }

    /** @return array<string, string> */
    public function filters(): array
    {
        return array_filter($this->safe(self::FILTERS), static fn (mixed $value): bool => is_string($value) && $value !== '');
    }
}
