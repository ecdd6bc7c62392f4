<?php

namespace App\Http\Requests;

use App\Models\Site;
use Illuminate\Foundation\Http\FormRequest;
use Pellix\Core\Wiring\Inspection\Expectation;

class InspectRequest extends FormRequest
{
    private const MOST_CHARACTERS = 5_000_000;

    private const LARGEST_HAR = 10_000_000;

    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'url' => ['nullable', 'string', 'max:2000'],
            'har' => ['nullable', 'string', 'max:'.self::LARGEST_HAR],
            'html' => ['required_without_all:url,har', 'nullable', 'string', 'max:'.self::MOST_CHARACTERS],
            'guard' => ['nullable', 'boolean:strict'],
            'policy' => ['nullable', 'string', 'max:8000'],
        ];
    }

    /** @return array<string, string> */
    public function messages(): array
    {
        return [
            'har.max' => 'A capture may have 10 MB here; bin/pellix inspect takes larger ones.',
            'html.required_without_all' => 'Paste the HTML of the page, choose a file, or type an address above.',
            'html.max' => 'A page may have 5,000,000 characters; this one has more.',
        ];
    }

    public function expected(Site $site): Expectation
    {
        return Expectation::read($site->key, array_filter($this->safe(['guard', 'policy']), static fn (mixed $value): bool => $value !== null))->servedFrom((string) config('app.url'))->accepting($site->keys());
    }

    /** The HTML counts as it is: no trimming, no empty text turned into null. */
    protected function prepareForValidation(): void
    {
        $json = $this->isJson() ? json_decode($this->getContent(), true) : null;
        foreach (['html', 'har'] as $name) {
            if (is_array($json) && is_string($json[$name] ?? null)) {
                $this->merge([$name => $json[$name]]);
            }
        }
    }
}
