<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/**
 * The lines of a text of any length, in UTF-8: unpacked where it is gzip (RFC 1952), decoded where a byte order mark says that
 * it is UTF-16, and split at whatever ends its lines.
 */
final class Lines
{
    private const CHUNK = 1 << 18;

    /** A line may have so many bytes. */
    public const LONGEST = 2_000_000;

    /** Packed bytes that are unpacked at once: they become a thousand times as many at most. */
    private const PACKED = 1 << 10;

    /** No log packs better than that; what does was made to fill memory or disk (common practice, no source). */
    private const MOST_TIMES = 200;
    private const SMALL = 1 << 25;

    /** @var resource */
    private $stream;

    private ?\InflateContext $gzip = null;

    private ?string $encoding = null;

    /** Bytes that make no whole character yet. */
    private string $rest = '';

    private bool $isOver = false;

    /** Packed bytes that were read and not unpacked yet. */
    private string $packed = '';

    /** Bytes that were unpacked, and those that they became. */
    private int $before = 0;
    private int $after = 0;

    /**
     * @param resource $stream
     * @param int|null $left   bytes to be read yet; null for all there are
     * @param (\Closure(int, string, bool): void)|null $trouble see `of()`
     */
    private function __construct($stream, private ?int $left = null, private readonly ?\Closure $trouble = null)
    {
        $this->stream = $stream;
    }

    /**
     * @param resource                          $stream
     * @param (\Closure(int, string, bool): void)|null $trouble is told the number of a line that is too long, or up to which the text could be
     *                                                    unpacked, and why, and whether nothing more can be read; the
     *                                                          others are given. Null to throw
     *
     * @return \Generator<int, string> number, from 1 => line without its end
     *
     * @throws InvalidText where a line does not end, or the text cannot be unpacked
     */
    public static function of($stream, ?\Closure $trouble = null): \Generator
    {
        $lines = new self($stream, null, $trouble);
        $text = $lines->begin();
        // Of old, a carriage return alone ended a line.
        yield from $lines->split($text, ! str_contains($text, "\n") && str_contains($text, "\r") ? "\r" : "\n", 0);
    }

    /**
     * Some of the lines of a file that is plain UTF-8 with line feeds.
     *
     * @param resource $stream which stands where a line begins
     * @param int      $bytes  so many are read
     * @param int      $before lines before these
     * @param (\Closure(int, string, bool): void)|null $trouble as of `of()`
     *
     * @return \Generator<int, string>
     *
     * @throws InvalidText
     */
    public static function piece($stream, int $bytes, int $before, ?\Closure $trouble = null): \Generator
    {
        $lines = new self($stream, $bytes, $trouble);
        yield from $lines->split($lines->raw(), "\n", $before);
    }

    /**
     * @param non-empty-string $end
     *
     * @return \Generator<int, string>
     */
    private function split(string $text, string $end, int $number): \Generator
    {
        do {
            $parts = explode($end, $text);
            $text = (string) array_pop($parts);
            foreach ($parts as $line) {
                yield ++$number => $end === "\n" && $line !== '' && $line[-1] === "\r" ? substr($line, 0, -1) : $line;
            }
            if (strlen($text) > self::LONGEST) {
                $this->tell('This line has more than '.number_format(self::LONGEST / 1_000_000).' MB.', ++$number, false);
                $text = $this->passed($end, $number);
            }
            $more = $this->more($number);
            $text .= $more;
        } while ($more !== '');
        if ($text !== '') {
            yield ++$number => rtrim($text, "\r");
        }
    }

    /**
     * What comes after the end of a line that is too long.
     *
     * @param non-empty-string $end
     */
    private function passed(string $end, int $number): string
    {
        do {
            $text = $this->more($number);
            $at = strpos($text, $end);
        } while ($at === false && $text !== '');

        return $at === false ? '' : substr($text, $at + 1);
    }

    /** @throws InvalidText where nobody wants to be told */
    private function tell(string $reason, int $line, bool $isEnd = true): void
    {
        if ($this->trouble === null) {
            throw new InvalidText($reason, (string) $line);
        }
        ($this->trouble)($line, $reason, $isEnd);
    }

    private function begin(): string
    {
        $raw = $this->raw();
        if (str_starts_with($raw, "\x1f\x8b")) {
            $this->gzip = inflate_init(ZLIB_ENCODING_GZIP) ?: null;
            $this->packed = $raw;
            $raw = $this->isOver ? '' : $this->unpacked($this->take(), 1);
        }
        foreach (['UTF-16LE' => "\xff\xfe", 'UTF-16BE' => "\xfe\xff"] as $encoding => $mark) {
            if (str_starts_with($raw, $mark)) {
                $this->encoding = $encoding;

                return $this->decoded(substr($raw, 2));
            }
        }

        return str_starts_with($raw, "\xef\xbb\xbf") ? substr($raw, 3) : $raw;
    }

    private function more(int $line): string
    {
        while (! $this->isOver) {
            $raw = $this->take();
            if ($raw === '') {
                $this->isOver = true;
                if ($this->gzip !== null && inflate_get_read_len($this->gzip) > 0) {
                    $this->tell('The packed file ends too early.', $line + 1);
                }
                break;
            }
            $text = $this->decoded($this->gzip === null ? $raw : $this->unpacked($raw, $line + 1));
            if ($text !== '') {
                return $text;
            }
        }

        return '';
    }

    /** The next bytes; of packed ones only so many that what they become has a bound. */
    private function take(): string
    {
        if ($this->gzip === null) {
            return $this->raw();
        }
        if ($this->packed === '') {
            $this->packed = $this->raw();
        }
        $bytes = substr($this->packed, 0, self::PACKED);
        $this->packed = substr($this->packed, self::PACKED);

        return $bytes;
    }

    private function raw(): string
    {
        $text = '';
        // A pipe gives little at a time; the beginning must be long enough to tell what it is.
        while (strlen($text) < 4096 && ! feof($this->stream)) {
            $wanted = min(self::CHUNK, $this->left ?? self::CHUNK);
            $chunk = $wanted < 1 ? '' : fread($this->stream, $wanted);
            if ($chunk === false || $chunk === '') {
                break;
            }
            $this->left = $this->left === null ? null : $this->left - strlen($chunk);
            $text .= $chunk;
        }

        return $text;
    }

    private function unpacked(string $bytes, int $line): string
    {
        $text = '';
        // A file may be several packed ones in a row.
        while ($this->gzip !== null && $bytes !== '') {
            $read = inflate_get_read_len($this->gzip);
            // What is damaged is told below, once.
            set_error_handler(static fn (): bool => true);
            $part = inflate_add($this->gzip, $bytes);
            restore_error_handler();
            if ($part === false) {
                $this->isOver = true;
                $this->tell('The file is no gzip, or it is damaged here.', $line);
                break;
            }
            $text .= $part;
            $this->before += inflate_get_read_len($this->gzip) - $read;
            $this->after += strlen($part);
            if ($this->after > self::SMALL && $this->after > self::MOST_TIMES * $this->before) {
                $this->isOver = true;
                $this->tell('The packed file becomes more than '.self::MOST_TIMES.' times as large: no log packs that well, so the rest is not read.', $line);
                break;
            }
            if (inflate_get_status($this->gzip) !== ZLIB_STREAM_END) {
                break;
            }
            $bytes = ltrim(substr($bytes, inflate_get_read_len($this->gzip) - $read), "\0");
            $this->gzip = inflate_init(ZLIB_ENCODING_GZIP) ?: null;
        }

        return $text;
    }

    private function decoded(string $bytes): string
    {
        if ($this->encoding === null) {
            return $bytes;
        }
        $bytes = $this->rest.$bytes;
        $whole = strlen($bytes) - strlen($bytes) % 2;
        // A character beyond the first 65,536 has two halves.
        $high = $whole < 2 ? 0 : ord($bytes[$whole - ($this->encoding === 'UTF-16LE' ? 1 : 2)]);
        $whole -= $high >= 0xD8 && $high <= 0xDB ? 2 : 0;
        $this->rest = substr($bytes, $whole);

        return (string) mb_convert_encoding(substr($bytes, 0, $whole), 'UTF-8', $this->encoding);
    }
}
