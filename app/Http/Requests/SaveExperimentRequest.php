<?php

namespace App\Http\Requests;

use App\Experiments\WrittenExperiment;
use App\Models\Experiment as Kept;
use App\Models\Site;
use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Rights\Right;

/** An experiment as a whole, as `App\Experiments\WrittenExperiment` reads it. */
class SaveExperimentRequest extends FormRequest
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'name' => ['required', 'string', 'max:120'],
            'key' => ['nullable', 'string', 'max:60'],
            'hypothesis' => ['nullable', 'string', 'max:2000'],
            'hypothesis_parts' => ['nullable', 'array'],
            'owner' => ['nullable', 'string', 'max:120'],
            'notes' => ['nullable', 'string', 'max:10000'],
            'labels' => ['nullable', 'array', 'list'],
            'share' => ['required', 'numeric'],
            'pages' => ['required', 'array'],
            'audience' => ['nullable', 'array'],
            'trigger' => ['nullable', 'array'],
            'kind' => ['nullable', Rule::in(['in_page', 'redirect'])],
            'unit' => ['nullable', 'string'],
            'group' => ['nullable', 'array'],
            'epochs' => ['nullable', 'array', 'max:0'],
            'start' => ['prohibited'],
            'end' => ['prohibited'],
            'variants' => ['required', 'array', 'list'],
            'variants.*' => ['array'],
            // A draft may be without; nothing starts before it has one.
            'goals' => ['present', 'array', 'list', 'max:20'],
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
            'goals.present' => 'Name the goals that the experiment is to move; of a draft that has none yet, an empty list.',
            'goals.*.name.required_without' => 'Give the goal a name.',
            'kind.in' => 'Pellix runs experiments of the kinds in_page and redirect; multivariate ones are read from files only.',
            'epochs.max' => 'Epochs follow from what is changed while the experiment runs; leave them out.',
            'start.prohibited' => 'The start follows from starting it; leave it out.',
            'end.prohibited' => 'The end follows from ending it; leave it out.',
        ];
    }

    /** @throws ValidationException with the message at the field */
    public function declared(Site $site): Experiment
    {
        $kept = $this->route('experiment');

        return WrittenExperiment::read($site, $kept instanceof Kept ? $kept : null, self::given($this), $this->user()->can(Right::Publish->value, $site));
    }

    /** The revision that the sender has read, by the header `If-Match` (RFC 9110, 13.1.1); null where none is given. */
    public static function revision(FormRequest $request): ?int
    {
        $header = trim((string) $request->header('If-Match'), " \t\"");
        if ($header === '' || $header === '*') {
            return null;
        }

        // Anything else was never given out, so it matches nothing.
        return preg_match('/\A\d{1,9}\z/', $header) === 1 ? (int) $header : -1;
    }

    /**
     * What was sent, as it was: Laravel would trim texts and turn empty ones into null.
     *
     * @return array<string, mixed>
     */
    public static function given(FormRequest $request): array
    {
        $json = $request->isJson() ? json_decode($request->getContent(), true) : null;

        return is_array($json) ? $json : $request->all();
    }
}
