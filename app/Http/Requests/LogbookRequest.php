<?php

namespace App\Http\Requests;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\Rule;
use Pellix\Core\Vocabulary\Thing;

/** Which entries of the Logbook are asked for. Days are those of the site. */
class LogbookRequest extends FormRequest
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'thing' => ['nullable', Rule::in(array_column(Thing::cases(), 'value'))],
            'key' => ['nullable', 'string', 'max:140'],
            'person' => ['nullable', 'string', 'max:120'],
            'from' => ['nullable', 'date_format:Y-m-d'],
            'to' => ['nullable', 'date_format:Y-m-d'],
            'before' => ['nullable', 'integer', 'min:1'],
        ];
    }

    /** @return array{thing: string|null, key: string|null, person: string|null, from: CarbonImmutable|null, to: CarbonImmutable|null} */
    public function filters(Site $site): array
    {
        $day = fn (string $name): ?CarbonImmutable => $this->validated($name) === null ? null : CarbonImmutable::parse($this->validated($name), $site->time_zone)->utc();

        return [
            'thing' => $this->validated('thing'), 'key' => $this->validated('key'), 'person' => $this->validated('person'),
            // The last day counts whole.
            'from' => $day('from'), 'to' => $this->validated('to') === null ? null : CarbonImmutable::parse($this->validated('to'), $site->time_zone)->addDay()->utc(),
        ];
    }
}
