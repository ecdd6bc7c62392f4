<?php

namespace App\Http\Requests;

use App\Models\Site;
use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Wiring\Inspection\Expectation;
use ZipArchive;

/** A file as it was kept, byte for byte: a page, a capture, or a zip of pages, of which it is counted beforehand what it unpacks to. */
class InspectArchiveRequest extends FormRequest
{
    private const MOST_PAGES = 500;

    private const LARGEST_PAGE = 5_000_000;

    private const MOST_BYTES = 60_000_000;

    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'archive' => ['required', 'file', 'max:10240'],
            'guard' => ['nullable', 'in:true,false'],
            'policy' => ['nullable', 'string', 'max:8000'],
        ];
    }

    /** @return array<string, string> */
    public function messages(): array
    {
        return ['archive.required' => 'Choose a file.', 'archive.max' => 'A file may have 10 MB here; bin/pellix inspect takes larger captures.', 'archive.uploaded' => 'A file may have 10 MB here; bin/pellix inspect takes larger captures.'];
    }

    public function expected(Site $site): Expectation
    {
        $given = array_filter(['guard' => match ($this->validated('guard')) {
            'true' => true,
            'false' => false,
            default => null,
        }, 'policy' => $this->validated('policy')], static fn (mixed $value): bool => $value !== null);

        return Expectation::read($site->key, $given)->servedFrom((string) config('app.url'))->accepting($site->keys());
    }

    /** The capture that the file is; null where it is none. */
    public function recorded(): ?string
    {
        return str_ends_with(strtolower($this->name()), '.har') ? $this->bytes() : null;
    }

    /**
     * @return array<string, string> name in the archive, or of the file itself => bytes
     *
     * @throws ValidationException
     */
    public function pages(): array
    {
        if (! str_ends_with(strtolower($this->name()), '.zip') && ! str_starts_with($this->bytes(), "PK\x03\x04")) {
            return strlen($this->bytes()) > self::LARGEST_PAGE ? $this->refuse('A page may have 5 MB.') : [$this->name() => $this->bytes()];
        }
        $zip = new ZipArchive();
        if ($zip->open((string) $this->file('archive')->getRealPath(), ZipArchive::RDONLY) !== true) {
            $this->refuse('This is no zip file, or it is damaged.');
        }
        $pages = [];
        $bytes = 0;
        for ($i = 0; $i < $zip->numFiles; $i++) {
            $entry = $zip->statIndex($i) ?: ['name' => '', 'size' => 0];
            if (preg_match('/\.(x?html?|xht)\z/i', $entry['name']) !== 1) {
                continue;
            }
            $bytes += $entry['size'];
            if (count($pages) === self::MOST_PAGES || $entry['size'] > self::LARGEST_PAGE || $bytes > self::MOST_BYTES) {
                $this->refuse("{$entry['name']}: a zip file may hold 500 pages of 5 MB, and 60 MB unpacked.");
            }
            // No more than was announced: the size in the directory may lie.
            $page = $zip->getFromIndex($i, $entry['size']);
            $pages[$entry['name']] = $page === false ? $this->refuse("{$entry['name']} cannot be read; is the file encrypted?") : $page;
        }
        $zip->close();
        ksort($pages);

        return $pages === [] ? $this->refuse('The file holds no .html, .htm or .xhtml.') : $pages;
    }

    private function name(): string
    {
        return mb_scrub((string) $this->file('archive')->getClientOriginalName(), 'UTF-8');
    }

    private function bytes(): string
    {
        return (string) file_get_contents((string) $this->file('archive')->getRealPath());
    }

    private function refuse(string $why): never
    {
        throw ValidationException::withMessages(['archive' => $why]);
    }
}
