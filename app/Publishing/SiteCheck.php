<?php

namespace App\Publishing;

use Pellix\Core\Assignment\Assigner;
use Pellix\Core\Experiments\Experiment as Declared;
use Symfony\Component\Process\Exception\ExceptionInterface;
use Symfony\Component\Process\Process;

/**
 * Runs a site's file before it is served: whether it can be read and run, and decides as the core does. By a JavaScript engine
 * of its own process, with bounded time and memory.
 */
class SiteCheck
{
    private const SECONDS = 15;
    private const UNITS = 40;

    /**
     * @param list<Declared> $running the experiments that are in it
     *
     * @return string|null what is wrong
     */
    public function wrong(string $file, string $site, int $number, array $running): ?string
    {
        $process = new Process([(string) config('pellix.node'), '--max-old-space-size=128', base_path('runtime/check.mjs')], timeout: self::SECONDS);
        $process->setInput(json_encode([
            'file' => $file, 'site' => $site, 'number' => $number,
            'experiments' => array_map(self::vectors(...), $running), 'vectors' => [base_path('tests/vectors')],
        ], JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES));
        try {
            $process->run();
            $answer = json_decode($process->getOutput(), true);
        } catch (ExceptionInterface $e) {
            return "It could not be checked: {$e->getMessage()}";
        }
        if (! is_array($answer)) {
            return 'It could not be checked: '.mb_strcut(trim($process->getErrorOutput()) ?: 'the check gave no answer', 0, 300, 'UTF-8');
        }

        return $answer['wrong'] ?? null;
    }

    /** @return array<string, mixed> what the core decides for some units and pages */
    private static function vectors(Declared $experiment): array
    {
        $assigner = $experiment->assigner();
        $paths = ['', 'catalogue', 'a/b?x=1#y', '%C3%A9?q=%22'];

        return [
            'key' => $experiment->key,
            'units' => array_map(static fn (int $i): array => self::unit($assigner, "check-{$experiment->key}-{$i}"), range(1, self::UNITS)),
            'pages' => array_map(static fn (string $path): array => ['url' => "https://check.invalid/{$path}", 'matches' => $experiment->pages->matches("https://check.invalid/{$path}")], $paths),
        ];
    }

    /** @return array{unit: string, in: bool, variant: string|null, bucket: int} */
    private static function unit(Assigner $assigner, string $unit): array
    {
        $given = $assigner->assign($unit);

        return ['unit' => $unit, 'in' => $given->in, 'variant' => $given->variant, 'bucket' => $given->bucket];
    }
}
