<?php

namespace App\Http\Requests;

use App\Models\Experiment as Kept;
use App\Models\Site;
use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\InvalidInput;

/**
 * An experiment as a person writes it: the experiment file without what Pellix adds (version, salt, and keys where they
 * are left out). What is right and wrong is the core's to say.
 */
class SaveExperimentRequest extends FormRequest
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'name' => ['required', 'string', 'max:120'],
            'key' => ['nullable', 'string', 'max:60'],
            'hypothesis' => ['nullable', 'string', 'max:2000'],
            'share' => ['required', 'numeric'],
            'pages' => ['required', 'array'],
            'trigger' => ['nullable', 'array'],
            'variants' => ['required', 'array', 'list'],
            'variants.*' => ['array'],
            'goals' => ['required', 'array', 'list', 'max:20'],
            'goals.*' => ['array'],
            'goals.*.key' => ['nullable', 'string', 'max:60', 'ascii'],
            // A goal of the site is named by its key alone; a new one needs a name.
            'goals.*.name' => ['required_without:goals.*.key', 'nullable', 'string', 'max:120'],
        ];
    }

    /** @return array<string, string> */
    public function messages(): array
    {
        return [
            'name.required' => 'Give the experiment a name.',
            'goals.required' => 'Name the goal that the experiment is to move.',
            'goals.*.name.required_without' => 'Give the goal a name.',
        ];
    }

    /** @throws ValidationException with the message at the field */
    public function declared(): Experiment
    {
        $kept = $this->route('experiment');
        $name = (string) $this->input('name');
        $json = [
            ...$this->only('name', 'share', 'pages', 'trigger', 'variants'),
            'pellix' => 1,
            'hypothesis' => (string) $this->input('hypothesis'),
            'key' => $kept instanceof Kept ? $kept->key : ($this->input('key') ?: self::slug($name, 'experiment')),
            'salt' => $kept instanceof Kept ? $kept->salt : Str::lower(Str::random(20)),
            'goals' => array_map($this->goal(...), $this->input('goals'), array_keys($this->input('goals'))),
        ];
        try {
            return Experiment::read($json);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([$e->field === '' ? 'experiment' : $e->field => $e->getMessage()]);
        }
    }

    /**
     * @param array<string, mixed> $goal
     *
     * @return array<string, mixed> the goal's whole definition
     */
    private function goal(array $goal, int $i): array
    {
        if (($goal['name'] ?? null) !== null) {
            return [...$goal, 'key' => $goal['key'] ?? self::slug((string) $goal['name'], 'goal')];
        }
        $site = $this->route('site');
        $kept = $site instanceof Site ? $site->goals()->where('key', $goal['key'])->first() : null;
        if ($kept === null) {
            throw ValidationException::withMessages(["goals.{$i}.key" => "This site has no goal \"{$goal['key']}\"."]);
        }

        return [...$kept->definition, 'role' => $goal['role'] ?? 'primary'];
    }

    private static function slug(string $name, string $fallback): string
    {
        return Str::limit(Str::slug($name), 60, '') ?: $fallback.'-'.Str::lower(Str::random(6));
    }
}
