<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/**
 * What a browser met of the snippet on a page.
 *
 * @phpstan-type File array{url: string, status: int|null, failed: string|null, blocked: string|null, ...}
 * @phpstan-type Refusal array{what: string, by: string, line: int, isReport: bool, ...}
 * @phpstan-type Line array{level: string, text: string, url: string, line: int, kind: string, ...}
 */
final readonly class SnippetSeen
{
    /**
     * @param string        $key       of the site
     * @param string        $pellix    where Pellix is served from
     * @param string        $page      address that was asked for
     * @param string        $landed    address that the browser was on in the end
     * @param list<File>    $files     requests for files of snippets, of whichever site
     * @param int           $loaders   how often the snippet stands on the page
     * @param list<Refusal> $refused   what the page's policy refused: what, by which directive, and whether that was only reported
     * @param bool          $runs      whether the runtime ran
     * @param int|null      $number    of the file that the page got
     * @param int|null      $published of the newest file; null where the page got one that is not published
     * @param string|null   $download  what came in the place of a page
     * @param list<Line>    $console
     */
    public function __construct(
        public string $key,
        public string $pellix,
        public string $page,
        public string $landed,
        public array $files,
        public int $loaders,
        public array $refused,
        public bool $runs,
        public ?int $number = null,
        public ?int $published = null,
        public ?string $download = null,
        public array $console = [],
    ) {
    }

    /** @return list<File> requests for the file of this site */
    public function own(): array
    {
        return array_values(array_filter($this->files, fn (array $one): bool => str_contains($one['url'], "/s/{$this->key}.js")));
    }

    /** @return list<File> requests for files of other sites */
    public function foreign(): array
    {
        return array_values(array_filter($this->files, fn (array $one): bool => ! str_contains($one['url'], "/s/{$this->key}.js")));
    }

    public function isAtItsPage(): bool
    {
        return self::page($this->landed) === self::page($this->page);
    }

    private static function page(string $url): string
    {
        return rtrim((string) preg_replace('~[?#].*\z~s', '', $url), '/');
    }
}
