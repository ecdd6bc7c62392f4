<?php

namespace App\Http\Requests;

use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\ValidationException;
use Pellix\Core\InvalidInput;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\RuleReader;

/** The rules of an experiment that is being written. */
class ReachRequest extends FormRequest
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'pages' => ['required', 'array'],
            'audience' => ['nullable', 'array'],
            'unit' => ['nullable', 'in:visitor,user'],
            'selector' => ['nullable', 'string', 'max:500'],
        ];
    }

    /** @return array{pages: array<string, mixed>, audience: array<string, mixed>|null, unit: string, selector: string|null} */
    public function wanted(): array
    {
        $given = SaveExperimentRequest::given($this);

        return [
            'pages' => self::rule('pages', static fn () => PageRule::read($given['pages'])->rule->toArray()),
            'audience' => ($given['audience'] ?? null) === null ? null : self::rule('audience', static fn () => RuleReader::read($given['audience'])->toArray()),
            'unit' => $given['unit'] ?? 'visitor',
            'selector' => trim((string) ($given['selector'] ?? '')) === '' ? null : (string) $given['selector'],
        ];
    }

    /**
     * @template T
     *
     * @param callable(): T $read
     *
     * @return T
     *
     * @throws ValidationException with the message at the field
     */
    public static function rule(string $field, callable $read): mixed
    {
        try {
            return $read();
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([$field.($e->field === '' ? '' : ".{$e->field}") => $e->getMessage()]);
        }
    }
}
