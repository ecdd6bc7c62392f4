<?php

namespace App\Http\Requests;

use App\Models\Experiment as Kept;
use App\Models\Site;
use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Support\Str;
use Illuminate\Validation\Rule;
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
            'audience' => ['nullable', 'array'],
            'trigger' => ['nullable', 'array'],
            'kind' => ['nullable', Rule::in(['in_page'])],
            'unit' => ['nullable', 'string'],
            'group' => ['nullable', 'array'],
            'epochs' => ['nullable', 'array', 'max:0'],
            'start' => ['prohibited'],
            'end' => ['prohibited'],
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
            'kind.in' => 'Pellix runs experiments of the kind in_page; redirect and multivariate ones are read from files only.',
            'epochs.max' => 'Epochs follow from what is changed while the experiment runs; leave them out.',
            'start.prohibited' => 'The start follows from starting it; leave it out.',
            'end.prohibited' => 'The end follows from ending it; leave it out.',
        ];
    }

    /** @throws ValidationException with the message at the field */
    public function declared(): Experiment
    {
        $kept = $this->route('experiment');
        $given = $this->given();
        $this->refuseOthers($given, $kept instanceof Kept ? $kept : null);
        $name = (string) $this->input('name');
        $json = [
            ...$given,
            'pellix' => 1,
            'hypothesis' => is_string($given['hypothesis'] ?? null) ? $given['hypothesis'] : '',
            'key' => $kept instanceof Kept ? $kept->key : (($given['key'] ?? null) ?: self::slug($name, 'experiment')),
            'salt' => $kept instanceof Kept ? $kept->salt : ($given['salt'] ?? Str::lower(Str::random(20))),
            'goals' => array_map($this->goal(...), $given['goals'], array_keys($given['goals'])),
        ];
        try {
            return Experiment::read($json, true);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([$e->field === '' ? 'experiment' : $e->field => $e->getMessage()]);
        }
    }

    /**
     * What was sent, as it was: Laravel would trim texts and turn empty ones into null.
     *
     * @return array<string, mixed>
     */
    private function given(): array
    {
        $json = $this->isJson() ? json_decode($this->getContent(), true) : null;

        return is_array($json) ? $json : $this->all();
    }

    /**
     * @param array<string, mixed> $given
     *
     * @throws ValidationException
     */
    private function refuseOthers(array $given, ?Kept $kept): void
    {
        foreach ($kept === null ? [] : ['key', 'salt'] as $member) {
            if (isset($given[$member]) && $given[$member] !== $kept->{$member}) {
                throw ValidationException::withMessages([$member => "The {$member} of an experiment stays what it is: {$kept->{$member}}."]);
            }
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
