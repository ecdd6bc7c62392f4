<?php

namespace App\Http\Requests;

use Illuminate\Foundation\Http\FormRequest;
use Pellix\Core\Rules\DescribedVisitor;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;

/** Rules, and visitors to try them on: described, or recorded page views by their ids. */
class EntryTraceRequest extends FormRequest
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'pages' => ['required', 'array'],
            'audience' => ['nullable', 'array'],
            'visitors' => ['required', 'array', 'list', 'max:50'],
            'visitors.*' => ['array'],
            'visitors.*.event' => ['nullable', 'string', 'max:64'],
            'visitors.*.visitor' => ['nullable', 'string', 'max:64'],
        ];
    }

    public function pages(): PageRule
    {
        return ReachRequest::rule('pages', fn (): PageRule => PageRule::read(SaveExperimentRequest::given($this)['pages']));
    }

    public function audience(): ?Rule
    {
        $given = SaveExperimentRequest::given($this)['audience'] ?? null;

        return $given === null ? null : ReachRequest::rule('audience', static fn (): Rule => RuleReader::read($given));
    }

    /** @return list<DescribedVisitor|array{event: string, visitor: string|null}> */
    public function visitors(): array
    {
        $visitors = [];
        foreach (SaveExperimentRequest::given($this)['visitors'] as $i => $one) {
            $visitors[] = isset($one['event'])
                ? ['event' => (string) $one['event'], 'visitor' => isset($one['visitor']) ? (string) $one['visitor'] : null]
                : ReachRequest::rule("visitors.{$i}", static fn (): DescribedVisitor => DescribedVisitor::read($one));
        }

        return $visitors;
    }
}
