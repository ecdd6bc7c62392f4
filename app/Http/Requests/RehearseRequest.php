<?php

namespace App\Http\Requests;

use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\Rule;
use Pellix\Core\Rehearsal\Screen;

/** What is to be rehearsed of an experiment. */
class RehearseRequest extends FormRequest
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'variants' => ['nullable', 'array', 'max:20'],
            'variants.*' => ['required', 'string', 'max:40'],
            'screens' => ['nullable', 'array', 'max:3'],
            'screens.*' => ['required', Rule::in(array_column(Screen::cases(), 'value'))],
        ];
    }

    /** @return array<string, string> */
    public function messages(): array
    {
        return ['screens.*.in' => 'A screen is one of '.implode(', ', array_column(Screen::cases(), 'value')).'.'];
    }

    /** @return list<string> keys; none for all */
    public function variants(): array
    {
        return array_values(array_unique((array) $this->validated('variants')));
    }

    /** @return list<string> none for all */
    public function screens(): array
    {
        return array_values(array_unique((array) $this->validated('screens')));
    }
}
