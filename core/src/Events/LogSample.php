<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\InvalidText;
use Pellix\Core\Formats\Lines;

/** The first lines of a log of whatever columns, to guess from and to be looked at. */
final readonly class LogSample
{
    private const LINES = 1000;

    /**
     * @param list<array<mixed>> $rows      cells by their column, or what a line of JSON holds
     * @param string|null        $separator of CSV; null for JSON
     * @param string|null        $encoding  where it has to be said
     */
    private function __construct(public array $rows, public ?string $separator, public ?string $encoding)
    {
    }

    /**
     * @param resource  $stream
     * @param bool|null $isCsv null for what it looks like
     *
     * @throws InvalidLog whose field is the number of the line
     */
    public static function of($stream, ?bool $isCsv): self
    {
        [$texts, $encoding] = self::lines($stream);
        $first = ltrim(implode('', array_slice(array_filter($texts, static fn (string $text): bool => trim($text) !== ''), 0, 1)));
        if (! ($isCsv ?? ! str_starts_with($first, '{'))) {
            return new self(array_values(array_filter(array_map(static fn (string $text): mixed => json_decode($text, true, 32), $texts), is_array(...))), null, $encoding);
        }
        $rows = [];
        $header = $separator = null;
        foreach (CsvRows::of((static fn (): \Generator => yield from array_combine(range(1, max(1, count($texts))), $texts ?: ['']))(), true) as $number => $row) {
            if (! is_string($row)) {
                continue;
            }
            if ($header === null) {
                [$separator, $header] = CsvRows::header($row, $number);
                continue;
            }
            $cells = LogReader::cells($row, (string) $separator);
            if (count($cells) === count($header)) {
                $rows[] = array_combine($header, $cells);
            }
        }

        return new self($rows, $separator, $encoding);
    }

    /**
     * @param resource $stream
     *
     * @return array{list<string>, string|null} lines in UTF-8, and the encoding where it has to be said
     */
    private static function lines($stream): array
    {
        $texts = [];
        $isOther = false;
        /** @var \ArrayObject<int, array{int, string}> $troubles */
        $troubles = new \ArrayObject();
        try {
            foreach (Lines::of($stream, static fn (int $line, string $why) => $troubles->append([$line, $why])) as $text) {
                $isOther = $isOther || ! mb_check_encoding($text, 'UTF-8');
                $texts[] = $text;
                if (count($texts) > self::LINES) {
                    break;
                }
            }
        } catch (InvalidText $e) {
            throw new InvalidLog($e->getMessage(), $e->field);
        }
        if ($texts === [] && count($troubles) > 0) {
            [$line, $why] = $troubles[0] ?? [1, ''];
            throw new InvalidLog($why, (string) $line);
        }

        return $isOther ? [array_map(static fn (string $text): string => (string) mb_convert_encoding($text, 'UTF-8', 'windows-1252'), $texts), 'windows-1252'] : [$texts, null];
    }

    /** @return array{mapping: array<string, mixed>, sure: array<string, bool>} a mapping, and of which of its fields it is sure */
    public function guess(): array
    {
        return ColumnGuess::of($this->rows, $this->separator, $this->encoding);
    }
}
