<?php

declare(strict_types=1);

namespace App\Rehearsals;

use Symfony\Component\Process\Process;

/** Compares pictures of a page, with the image library of compare.mjs. */
final class Comparison
{
    private const SECONDS = 30;

    /**
     * @param list<string> $pictures PNG: the control, the control once more, the variant
     *
     * @return array{picture: string, pixels: int, boxes: list<array{0: int, 1: int, 2: int, 3: int}>} the variant with the differences outlined, and where they are
     */
    public static function of(array $pictures, string $folder): array
    {
        $files = [];
        try {
            foreach ([...$pictures, ''] as $i => $content) {
                $files[] = $file = "{$folder}/compared-{$i}.png";
                file_put_contents($file, $content);
            }
            $process = new Process([(string) config('pellix.node'), '--max-old-space-size=512', __DIR__.'/compare.mjs', ...$files], base_path(), timeout: self::SECONDS);
            $process->mustRun();
            /** @var array{pixels: int, boxes: list<array{0: int, 1: int, 2: int, 3: int}>} $found */
            $found = json_decode($process->getOutput(), true, 16, JSON_THROW_ON_ERROR);

            return ['picture' => (string) file_get_contents($files[count($pictures)]), 'pixels' => $found['pixels'], 'boxes' => $found['boxes']];
        } finally {
            array_map(static fn (string $file): bool => @unlink($file), $files);
        }
    }
}
