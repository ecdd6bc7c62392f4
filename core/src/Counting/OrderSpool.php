<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Formats\Bits;
use Pellix\Core\Formats\Spool;
use Pellix\Core\Goals\Hit;

/** Hits of visitors who ordered, put aside until it is known who told of which order first. */
final class OrderSpool
{
    private const PARTS = 64;

    private readonly Spool $orders;

    private readonly Spool $visitors;

    private int $number = 0;

    public function __construct()
    {
        $this->orders = new Spool(self::PARTS);
        $this->visitors = new Spool(1);
    }

    /**
     * @param array<int, list<Hit>>                             $hits      place of the goal => hits
     * @param array<string, array{string, \DateTimeImmutable}> $exposures
     */
    public function put(string $visitor, array $hits, array $exposures): void
    {
        foreach ($hits as $goal => $found) {
            foreach ($found as $hit) {
                if ($hit->order !== null) {
                    $this->orders->add(crc32($hit->order), serialize([$this->number, "{$goal} {$hit->order}", $hit->time->format('U.u'), $hit->event()])."\0\n");
                }
                $this->number++;
            }
        }
        $this->visitors->add(0, base64_encode(serialize([$visitor, $hits, $exposures]))."\n");
    }

    /** @return \Generator<int, array{string, array<int, list<Hit>>, array<string, array{string, \DateTimeImmutable}>}> visitor, hits of which an order is told of once, exposures */
    public function once(): \Generator
    {
        $later = $this->later();
        $number = 0;
        foreach ($this->visitors->files() as $file) {
            while (($line = fgets($file)) !== false) {
                /** @var array{string, array<int, list<Hit>>, array<string, array{string, \DateTimeImmutable}>} $record */
                $record = unserialize((string) base64_decode($line, true), ['allowed_classes' => [Hit::class, \DateTimeImmutable::class]]);
                foreach ($record[1] as $goal => $found) {
                    $kept = [];
                    foreach ($found as $hit) {
                        if (! $later->has($number)) {
                            $kept[] = $hit;
                        }
                        $number++;
                    }
                    $record[1][$goal] = $kept;
                }
                yield $record;
            }
        }
    }

    /** Which hits, by their number, are of orders that were told of earlier. */
    private function later(): Bits
    {
        $later = new Bits($this->number);
        foreach ($this->orders->files() as $file) {
            /** @var array<string, array{float, string, int}> $first */
            $first = [];
            while (($line = stream_get_line($file, 1 << 20, "\0\n")) !== false) {
                /** @var array{int, string, string, string} $record */
                $record = unserialize($line, ['allowed_classes' => false]);
                [$number, $order, $time, $event] = $record;
                $mine = [(float) $time, $event, $number];
                $other = $first["#{$order}"] ?? null;
                $isFirst = $other === null || $mine[0] < $other[0] || ($mine[0] === $other[0] && strcmp($event, $other[1]) < 0);
                $lost = $isFirst ? $other[2] ?? null : $number;
                if ($isFirst) {
                    $first["#{$order}"] = $mine;
                }
                if ($lost !== null) {
                    $later->set($lost);
                }
            }
        }

        return $later;
    }
}
