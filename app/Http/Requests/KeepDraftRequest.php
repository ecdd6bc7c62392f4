<?php

namespace App\Http\Requests;

use App\Experiments\WrittenChanges;
use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\Rule;
use Pellix\Core\Happenings\Kind;

/** A draft while it is being written: of the right shape, and not yet whole. */
class KeepDraftRequest extends FormRequest
{
    public const MOST_BYTES = 500_000;

    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'name' => ['present', 'nullable', 'string', 'max:120'],
            'hypothesis' => ['nullable', 'string', 'max:2000'],
            'hypothesis_parts' => ['nullable', 'array'],
            'hypothesis_parts.*' => ['nullable', 'string', 'max:2000'],
            'owner' => ['nullable', 'string', 'max:120'],
            'notes' => ['nullable', 'string', 'max:10000'],
            'labels' => ['nullable', 'array', 'list', 'max:50'],
            'labels.*' => ['string', 'max:200'],
            'share' => ['present', 'nullable', 'numeric'],
            'pages' => ['required', 'array'],
            'audience' => ['nullable', 'array'],
            'trigger' => ['nullable', 'array'],
            'trigger.kind' => ['required_with:trigger', 'string', Rule::in(Kind::ofTriggers())],
            'trigger.pages' => ['nullable', 'array'],
            'trigger.when' => ['nullable', 'array'],
            'trigger.name' => ['nullable', 'string', 'max:200'],
            'trigger.selector' => ['nullable', 'string', 'max:2000'],
            'trigger.seconds' => ['nullable', 'numeric'],
            'trigger.percent' => ['nullable', 'numeric'],
            'kind' => ['nullable', 'in:in_page,redirect'],
            'unit' => ['nullable', 'in:visitor,user'],
            'lifetime_days' => ['nullable', 'numeric'],
            'planned_days' => ['nullable', 'numeric'],
            'group' => ['nullable', 'array'],
            'group.key' => ['nullable', 'string', 'max:200'],
            'variants' => ['required', 'array', 'list', 'min:1', 'max:50'],
            'variants.*' => ['array'],
            'variants.*.key' => ['required', 'string', 'max:60'],
            'variants.*.name' => ['nullable', 'string', 'max:200'],
            'variants.*.weight' => ['present', 'nullable', 'numeric'],
            'variants.*.control' => ['nullable', 'boolean'],
            'variants.*.target' => ['nullable', 'string', 'max:3000'],
            ...WrittenChanges::rules('variants.*.changes'),
            'goals' => ['present', 'array', 'list', 'max:20'],
            'goals.*' => ['array'],
            'goals.*.key' => ['nullable', 'string', 'max:60', 'ascii'],
            'goals.*.name' => ['nullable', 'string', 'max:120'],
            'goals.*.role' => ['nullable', 'string', 'max:20'],
            'goals.*.pages' => ['nullable', 'array'],
        ];
    }

    protected function prepareForValidation(): void
    {
        abort_if(strlen($this->getContent()) > self::MOST_BYTES, 413, 'A draft has at most '.self::MOST_BYTES.' bytes.');
    }
}
