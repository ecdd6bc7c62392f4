<?php

namespace App\Http\Requests;

use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\ValidationException;
use ZipArchive;

/** A zip file with pages. What it unpacks to is counted before it is unpacked. */
class InspectArchiveRequest extends FormRequest
{
    private const MOST_PAGES = 500;

    private const LARGEST_PAGE = 5_000_000;

    private const MOST_BYTES = 60_000_000;

    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['archive' => ['required', 'file', 'max:10240']];
    }

    /** @return array<string, string> */
    public function messages(): array
    {
        return ['archive.required' => 'Choose a zip file.', 'archive.max' => 'A zip file may have 10 MB.', 'archive.uploaded' => 'A zip file may have 10 MB.'];
    }

    /**
     * @return array<string, string> name in the archive => bytes
     *
     * @throws ValidationException
     */
    public function pages(): array
    {
        $zip = new ZipArchive();
        if ($zip->open((string) $this->file('archive')->getRealPath(), ZipArchive::RDONLY) !== true) {
            $this->refuse('This is no zip file, or it is damaged.');
        }
        $pages = [];
        $bytes = 0;
        for ($i = 0; $i < $zip->numFiles; $i++) {
            $entry = $zip->statIndex($i) ?: ['name' => '', 'size' => 0];
            if (preg_match('/\.x?html?\z/i', $entry['name']) !== 1) {
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

    private function refuse(string $why): never
    {
        throw ValidationException::withMessages(['archive' => $why]);
    }
}
