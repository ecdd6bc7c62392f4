<?php

namespace App\Http\Requests;

use App\Models\AuditLog;
use App\Models\Experiment;
use App\Models\Site;
use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Reconcile\Reconciliation;

/** A file of another source, and against what it is to be held. */
class ReconcileRequest extends FormRequest
{
    private const LARGEST = 10_000_000;

    private const LONGEST_WINDOW = 86_400;

    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'file' => ['required', 'file', 'max:10240'],
            'experiment' => ['required_without:log', 'nullable', 'string', 'max:60'],
            'log' => ['nullable', 'integer'],
            'mapping' => ['nullable', 'string', 'max:20000', 'json'],
            'tolerance' => ['nullable', 'numeric', 'min:0', 'lt:1'],
            'window' => ['nullable', 'integer', 'min:0', 'max:'.self::LONGEST_WINDOW],
            'goal' => ['nullable', 'string', 'max:60'],
        ];
    }

    /** @return array<string, string> */
    public function messages(): array
    {
        $large = 'A file may have 10 MB here, unpacked; bin/pellix reconcile takes larger ones.';

        return [
            'file.required' => 'Choose a file of the other source.', 'file.file' => 'Choose a file of the other source.', 'file.max' => $large, 'file.uploaded' => $large,
            'experiment.required_without' => 'Say what it is to be held against: an experiment, or a log.',
            'mapping.json' => 'A mapping is JSON.', 'tolerance' => 'A part from 0 to less than 1, such as 0.05 for 5 %.', 'window' => 'Whole seconds, from 0 to '.self::LONGEST_WINDOW.'.',
        ];
    }

    /** @throws ValidationException */
    public function subject(Site $site): Experiment|AuditLog
    {
        $log = $this->validated('log');
        if ($log !== null) {
            return $site->auditLogs()->find($log) ?? throw ValidationException::withMessages(['log' => 'There is no such log.']);
        }
        $key = (string) $this->validated('experiment');

        return $site->experiments()->where('key', $key)->first() ?? throw ValidationException::withMessages(['experiment' => "This site has no experiment \"{$key}\"."]);
    }

    public function name(): string
    {
        return (string) $this->file('file')->getClientOriginalName();
    }

    /** @throws ValidationException */
    public function bytes(): string
    {
        $bytes = (string) file_get_contents((string) $this->file('file')->getRealPath());
        if (str_starts_with($bytes, "\x1f\x8b")) {
            $plain = @gzdecode($bytes, self::LARGEST + 1);
            $bytes = $plain === false ? throw ValidationException::withMessages(['file' => 'It is packed by gzip and cannot be unpacked, or has more than 10 MB unpacked.']) : $plain;
        }

        return strlen($bytes) > self::LARGEST ? throw ValidationException::withMessages(['file' => 'A file may have 10 MB here, unpacked; bin/pellix reconcile takes larger ones.']) : $bytes;
    }

    /** @return array<string, mixed>|null */
    public function mapping(): ?array
    {
        $json = $this->validated('mapping');
        $mapping = $json === null ? null : json_decode((string) $json, true, 20);

        return $mapping === null ? null : (is_array($mapping) ? $mapping : throw ValidationException::withMessages(['mapping' => 'A mapping is a JSON object.']));
    }

    public function tolerance(): float
    {
        return (float) ($this->validated('tolerance') ?? Reconciliation::TOLERANCE);
    }

    public function window(): int
    {
        return (int) ($this->validated('window') ?? Reconciliation::WINDOW);
    }

    public function goal(): ?string
    {
        return $this->validated('goal');
    }
}
