<?php

declare(strict_types=1);

namespace Tests\Support;

/** Which folder of a tree uses which, read from the source. */
final class Imports
{
    /**
     * @param string       $folder    of the repository
     * @param string       $namespace of its classes
     * @param list<string> $deeper    folders whose own folders count on their own, as `Wiring/Tags`
     *
     * @return array<string, list<string>> folder => folders that it uses, in order
     */
    public static function of(string $folder, string $namespace, array $deeper = []): array
    {
        $root = dirname(__DIR__, 2)."/{$folder}";
        $uses = [];
        foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($root, \FilesystemIterator::SKIP_DOTS)) as $file) {
            if ($file->getExtension() !== 'php') {
                continue;
            }
            $me = self::place(substr($file->getPath(), strlen($root) + 1), $deeper);
            preg_match_all('/\b'.preg_quote($namespace).'((?:\\\\[A-Za-z]+)+)/', (string) preg_replace('/^namespace .*$/m', '', (string) file_get_contents($file->getPathname())), $m);
            foreach ($m[1] as $class) {
                $steps = explode('\\', ltrim($class, '\\'));
                array_pop($steps);
                $other = self::place(implode('/', $steps), $deeper);
                if ($other !== $me && $other !== '' && $me !== '') {
                    $uses[$me][$other] = true;
                }
            }
        }
        ksort($uses);

        return array_map(static function (array $others): array {
            ksort($others);

            return array_keys($others);
        }, $uses);
    }

    /**
     * @param array<string, list<string>> $uses
     *
     * @return list<string> the folders that lead back to themselves
     */
    public static function circles(array $uses): array
    {
        $leads = static function (string $from, string $to, array $seen) use (&$leads, $uses): bool {
            foreach ($uses[$from] ?? [] as $next) {
                if ($next === $to || (! isset($seen[$next]) && $leads($next, $to, $seen + [$next => true]))) {
                    return true;
                }
            }

            return false;
        };

        return array_values(array_filter(array_keys($uses), static fn (string $folder): bool => $leads($folder, $folder, [])));
    }

    /** @param list<string> $deeper */
    private static function place(string $path, array $deeper): string
    {
        $steps = explode('/', $path);

        return in_array($steps[0], $deeper, true) && isset($steps[1]) ? "{$steps[0]}/{$steps[1]}" : $steps[0];
    }
}
