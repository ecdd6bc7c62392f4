<?php

namespace App\Http\Requests;

use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Wiring\Tags\InvalidTag;
use Pellix\Core\Wiring\Tags\TagSet;

/** All tags of a site as a person left them; `revision` says which state of them the person started from. */
class SaveTagsRequest extends FormRequest
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'revision' => ['required', 'integer', 'min:0'],
            'tags' => ['present', 'array', 'list'],
            'tags.*' => ['array'],
        ];
    }

    /** @throws ValidationException with the message at the field */
    public function tags(): TagSet
    {
        try {
            // Code counts as it is written; Laravel would trim it.
            return TagSet::read(json_decode($this->getContent(), true)['tags'] ?? $this->input('tags'), true);
        } catch (InvalidTag $e) {
            throw ValidationException::withMessages([trim("tags.{$e->field}", '.') => $e->getMessage()]);
        }
    }
}
