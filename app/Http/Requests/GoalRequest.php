<?php

namespace App\Http\Requests;

use App\Measures\GoalKey;
use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Goals\Goal;
use Pellix\Core\InvalidInput;

/** A goal as a person writes it; the key is made from the name where it is left out. What is right and wrong is the core's to say. */
class GoalRequest extends FormRequest
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['name' => ['nullable', 'string', 'max:120'], 'key' => ['nullable', 'string', 'max:60'], 'kind' => ['required', 'string']];
    }

    /** @throws ValidationException with the message at the field */
    public function goal(?string $key = null): Goal
    {
        // Which experiments go on with the former one is no part of the goal.
        $json = array_diff_key($this->json()->all(), ['keep_former' => 0]);
        $name = is_string($json['name'] ?? null) ? trim($json['name']) : '';
        if ($name === '' && $key !== 'trial') {
            throw ValidationException::withMessages(['name' => 'Give the goal a name.']);
        }
        $key ??= ($json['key'] ?? null) ?: GoalKey::of($name);
        try {
            return Goal::read([...array_filter($json, static fn (mixed $value): bool => $value !== null), 'name' => $name ?: $key, 'key' => $key, 'role' => 'primary'], true);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([$e->field === '' ? 'goal' : $e->field => $e->getMessage()]);
        }
    }
}
