<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Formats\Bits;
use Pellix\Core\Formats\Spool;
use Pellix\Core\Goals\Hit;

/** Hits of goals that orders reached, put aside until it is known who told of which order first. */
final class OrderSpool
{
    private const PARTS = 32;

    private readonly Spool $orders;

    private readonly Spool $visitors;

    private int $number = 0;

    public function __construct()
    {
        $this->orders = new Spool(self::PARTS);
        $this->visitors = new Spool(1);
    }

    /** Writes all, for another process that shares the files; it must be told the number of hits that this returns. */
    public function flush(): int
    {
        $this->orders->flush();
        $this->visitors->flush();

        return $this->number;
    }

    public function has(int $hits): void
    {
        $this->number = $hits;
    }

    /**
     * @param array<int, list<Hit>> $hits  place of the goal => hits
     * @param array<mixed>          $about what is known of the visitor besides: texts, numbers, moments
     */
    public function put(array $hits, array $about): void
    {
        foreach ($hits as $goal => $found) {
            foreach ($found as $hit) {
                if ($hit->order !== null) {
                    $this->orders->add(crc32($hit->order), serialize([$this->number, "{$goal} {$hit->order}", $hit->time->format('U.u'), $hit->event()])."\0\n");
                }
                $this->number++;
            }
        }
        $this->visitors->add(0, base64_encode(serialize([$hits, $about]))."\n");
    }

    /**
     * @param Bits $later which hits, by their number, do not count
     *
     * @return \Generator<int, array{array<int, list<Hit>>, array<mixed>}> of one visitor: place of the goal => hits, of an order the first alone; what is known besides
     */
    public function once(Bits $later): \Generator
    {
        $number = 0;
        $file = $this->visitors->part(0);
        while (($line = fgets($file)) !== false) {
            /** @var array{array<int, list<Hit>>, array<mixed>} $record */
            $record = unserialize((string) base64_decode($line, true), ['allowed_classes' => [Hit::class, \DateTimeImmutable::class]]);
            foreach ($record[0] as $goal => $found) {
                $kept = [];
                foreach ($found as $hit) {
                    if (! $later->has($number)) {
                        $kept[] = $hit;
                    }
                    $number++;
                }
                $record[0][$goal] = $kept;
            }
            yield $record;
        }
    }

    /**
     * Which hits of each, by their number, are of orders that were told of earlier; by every second part of the orders.
     *
     * @param array{self, self} $spools
     *
     * @return array{Bits, Bits}
     */
    public static function later(array $spools, int $half): array
    {
        $later = [new Bits($spools[0]->number), new Bits($spools[1]->number)];
        for ($part = $half; $part < self::PARTS; $part += 2) {
            /** @var array<string, array{float, string, int, int}> $first */
            $first = [];
            foreach ($spools as $i => $spool) {
                $file = $spool->orders->part($part);
                while (($line = stream_get_line($file, 1 << 20, "\0\n")) !== false) {
                    /** @var array{int, string, string, string} $record */
                    $record = unserialize($line, ['allowed_classes' => false]);
                    [$number, $order, $time, $event] = $record;
                    $mine = [(float) $time, $event, $i, $number];
                    $other = $first["#{$order}"] ?? null;
                    $isFirst = $other === null || $mine[0] < $other[0] || ($mine[0] === $other[0] && strcmp($event, $other[1]) < 0);
                    $lost = $isFirst ? $other : $mine;
                    if ($isFirst) {
                        $first["#{$order}"] = $mine;
                    }
                    if ($lost !== null) {
                        $later[$lost[2]]->set($lost[3]);
                    }
                }
            }
        }

        return $later;
    }
}
