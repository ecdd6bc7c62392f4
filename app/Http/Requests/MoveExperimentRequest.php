<?php

namespace App\Http\Requests;

use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\Rule;
use Pellix\Core\Experiments\Stage;

class MoveExperimentRequest extends FormRequest
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'action' => ['required', 'string', Rule::in(Stage::actions())],
            'reason' => ['nullable', 'string', 'max:500'],
            'keep' => ['nullable', 'string', 'max:60'],
        ];
    }
}
