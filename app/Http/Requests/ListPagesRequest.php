<?php

namespace App\Http\Requests;

use App\Inventory\Coverage;
use App\Inventory\PageSearch;
use App\Models\Page;
use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\Rule;

class ListPagesRequest extends FormRequest
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'state' => ['nullable', Rule::in(Coverage::STATES)],
            'source' => ['nullable', Rule::in(Page::SOURCES)],
            'group' => ['nullable', 'string', 'max:80'],
            'code' => ['nullable', 'string', 'max:80'],
            'q' => ['nullable', 'string', 'max:200'],
            'sort' => ['nullable', Rule::in(array_keys(PageSearch::SORTS))],
            'page' => ['nullable', 'integer', 'min:1', 'max:10000'],
        ];
    }

    /** @return array<string, string> */
    public function filters(): array
    {
        return array_filter($this->safe(['state', 'source', 'group', 'code', 'q', 'sort']), static fn (mixed $value): bool => is_string($value) && $value !== '');
    }
}
