<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/** A JSON text with the line that each of its values starts on, so that a complaint can name the place. */
final class JsonDocument
{
    public const DEEPEST = 64;

    private int $at = 0;

    /** @var array<string, int> path => byte offset */
    private array $offsets = [];

    private function __construct(private readonly string $text, public readonly mixed $value)
    {
    }

    /** @throws InvalidJson with the line and column of the first mistake */
    public static function parse(string $text): self
    {
        $text = str_starts_with($text, "\xef\xbb\xbf") ? substr($text, 3) : $text;
        try {
            return new self($text, json_decode($text, true, self::DEEPEST, JSON_THROW_ON_ERROR));
        } catch (\JsonException $e) {
            $broken = new self($text, null);
            try {
                $broken->scan('');
                $broken->expect('\z', 'the end of the file');
                $message = $e->getMessage();
            } catch (InvalidJson $found) {
                $message = $found->getMessage();
            }
            [$line, $column] = $broken->position($broken->at);

            throw new InvalidJson("Not valid JSON at line {$line}, column {$column}: {$message}.");
        }
    }

    /** The line, from 1, on which the value at a path (`variants.1.weight`) starts; of its nearest parent where it is missing. */
    public function lineOf(string $path): int
    {
        if ($this->offsets === []) {
            $this->at = 0;
            $this->scan('');
        }
        while ($path !== '' && ! isset($this->offsets[$path])) {
            $path = str_contains($path, '.') ? substr($path, 0, (int) strrpos($path, '.')) : '';
        }

        return $this->position($this->offsets[$path] ?? 0)[0];
    }

    private function scan(string $path, int $depth = 0): void
    {
        if ($depth > self::DEEPEST) {
            throw new InvalidJson('values stand within each other more than '.self::DEEPEST.' deep');
        }
        $this->skipSpace();
        $this->offsets[$path] = $this->at;
        $start = $this->text[$this->at] ?? '';
        match ($start) {
            '{' => $this->members($path, '}', true, $depth),
            '[' => $this->members($path, ']', false, $depth),
            '"' => $this->string(),
            default => $this->expect('-?(?:0|[1-9]\d*)(?:\.\d+)?(?:[eE][+-]?\d+)?|true|false|null', 'a value'),
        };
        $this->skipSpace();
    }

    private function members(string $path, string $end, bool $named, int $depth): void
    {
        $this->at++;
        $this->skipSpace();
        for ($i = 0; ($this->text[$this->at] ?? '') !== $end || $i > 0; $i++) {
            $name = (string) $i;
            if ($named) {
                $name = $this->string();
                $this->skipSpace();
                $this->expect(':', '":" after a name');
            }
            $this->scan($path === '' ? $name : "{$path}.{$name}", $depth + 1);
            if (($this->text[$this->at] ?? '') === $end) {
                break;
            }
            $this->expect(',', "\",\" or \"{$end}\"");
            $this->skipSpace();
        }
        $this->at++;
    }

    private function string(): string
    {
        $text = $this->expect('"(?:[^"\\\\\x00-\x1f]|\\\\(?:["\\\\/bfnrt]|u[0-9a-fA-F]{4}))*+"', 'a text in double quotes');
        $value = json_decode($text);

        return is_string($value) ? $value : '';
    }

    private function expect(string $pattern, string $what): string
    {
        if (preg_match("~\\G(?:{$pattern})~", $this->text, $m, 0, $this->at) !== 1) {
            throw new InvalidJson("{$what} was expected");
        }
        $this->at += strlen($m[0]);

        return $m[0];
    }

    private function skipSpace(): void
    {
        $this->at += strspn($this->text, " \t\r\n", $this->at);
    }

    /** @return array{int, int} line and column in bytes, both from 1 */
    private function position(int $offset): array
    {
        $before = substr($this->text, 0, $offset);

        return [substr_count($before, "\n") + 1, $offset - (int) strrpos("\n{$before}", "\n") + 1];
    }
}
