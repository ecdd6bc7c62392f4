<?php

declare(strict_types=1);

namespace App\Fetching;

use GuzzleHttp\Psr7\StreamDecoratorTrait;
use Psr\Http\Message\StreamInterface;

/** Takes so many bytes and no more. It stands behind decompression, so a small body that unpacks to a huge one stops too. */
final class CappedStream implements StreamInterface
{
    use StreamDecoratorTrait;

    private int $taken = 0;

    public function __construct(private StreamInterface $stream, private readonly int $most)
    {
    }

    public function write($string): int
    {
        $this->taken += strlen($string);
        if ($this->taken > $this->most) {
            throw new FetchFailed('it is larger than '.number_format($this->most / 1_000_000).' MB.');
        }

        return $this->stream->write($string);
    }
}
