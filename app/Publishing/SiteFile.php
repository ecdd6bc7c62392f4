<?php

namespace App\Publishing;

use Illuminate\Filesystem\Filesystem;

/** The file that a site's snippet loads, on this machine. */
class SiteFile
{
    public function __construct(private readonly Filesystem $files)
    {
    }

    /**
     * Writes the file, unless a newer one is there: of two who publish at once, the later to compile may be the first to write.
     *
     * @param list<string> $parts       what its experiments need beside the runtime, before which it stands
     * @param bool         $evenIfOlder for a start, where the file may be of a database that was put back since
     */
    public function write(string $key, int $number, string $configuration, array $parts, bool $evenIfOlder = false): void
    {
        $folder = (string) config('pellix.published');
        $this->files->ensureDirectoryExists($folder);
        $path = "{$folder}/{$key}.js";
        $lock = fopen("{$path}.lock", 'c');
        try {
            flock($lock, LOCK_EX);
            if ($evenIfOlder || $this->number($path) <= $number) {
                // Written beside and moved over, so that nobody is ever served half a file.
                $this->files->replace($path, $this->text($configuration, $parts), 0644);
            }
        } finally {
            fclose($lock);
        }
    }

    /**
     * The same content for the pages that carry another key of the site, which their beacons are to tell.
     *
     * @param string $configuration as Publisher compiles it: the number and the key come first
     */
    public static function under(string $key, string $configuration): string
    {
        return (string) preg_replace('/\A\{"number":\d+,"site":"\K[^"]+/', $key, $configuration, 1);
    }

    /** From now on the snippets with these keys find nothing, and do nothing. */
    public function remove(string ...$keys): void
    {
        foreach ($keys as $key) {
            $this->files->delete(config('pellix.published')."/{$key}.js");
        }
    }

    /** @param list<string> $parts */
    public function text(string $configuration, array $parts): string
    {
        $code = array_map(fn (string $part): string => rtrim($this->files->get(base_path("runtime/dist/{$part}.js"))), [...$parts, 'pellix']);

        return "window.pellixSite={$configuration};\n".implode("\n", $code)."\n";
    }

    private function number(string $path): int
    {
        $begin = is_file($path) ? (string) file_get_contents($path, false, null, 0, 60) : '';

        return preg_match('/\Awindow\.pellixSite=\{"number":(\d+)/', $begin, $m) === 1 ? (int) $m[1] : 0;
    }
}
