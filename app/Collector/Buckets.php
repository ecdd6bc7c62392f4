<?php

declare(strict_types=1);

namespace App\Collector;

/**
 * Token buckets that all workers of this machine share, each a small file: so much may be taken at once, and so much comes
 * back every second.
 */
final readonly class Buckets
{
    public function __construct(private string $folder)
    {
    }

    /**
     * @param string $name    letters, digits, "-" and "_"
     * @param float  $amount  to be taken
     * @param float  $second  what comes back a second
     * @param float  $most    what there is at most
     *
     * @return float seconds until there is enough; 0.0 where it was taken
     */
    public function take(string $name, float $amount, float $second, float $most): float
    {
        $file = @fopen("{$this->folder}/{$name}", 'c+');
        // Where nothing can be counted, nothing is held up.
        if ($file === false || ! flock($file, LOCK_EX)) {
            return 0.0;
        }
        $now = microtime(true);
        [$left, $then] = array_map(floatval(...), explode(' ', (string) fread($file, 64), 2) + [1 => '0']);
        $left = $then > 0 && $then <= $now ? min($most, $left + ($now - $then) * $second) : $most;
        $isThere = $left >= $amount;
        rewind($file);
        ftruncate($file, 0);
        fwrite($file, sprintf('%.3f %.6f', $isThere ? $left - $amount : $left, $now));
        fclose($file);

        return $isThere ? 0.0 : ($amount - $left) / $second;
    }
}
