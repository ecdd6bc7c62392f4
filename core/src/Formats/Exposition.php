<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/**
 * Measurements as text, in the exposition format 0.0.4 of Prometheus: for each name a help line, its type, and a line a sample.
 *
 * @phpstan-type Sample array{labels: array<string, string>, value: float, suffix?: string}
 */
final class Exposition
{
    public const MEDIA_TYPE = 'text/plain; version=0.0.4; charset=utf-8';

    private string $text = '';

    /**
     * @param string       $name    letters, digits, "_" and ":"
     * @param string       $type    counter, gauge, histogram, untyped
     * @param list<Sample> $samples a histogram's have the suffixes `_bucket` (with the label `le`), `_sum` and `_count`
     */
    public function add(string $name, string $type, string $help, array $samples): void
    {
        $this->text .= "# HELP {$name} ".strtr($help, ['\\' => '\\\\', "\n" => '\\n'])."\n# TYPE {$name} {$type}\n";
        foreach ($samples as $sample) {
            $this->text .= $name.($sample['suffix'] ?? '').self::labels($sample['labels']).' '.self::number($sample['value'])."\n";
        }
    }

    public function text(): string
    {
        return $this->text;
    }

    /** @param array<string, string> $labels */
    private static function labels(array $labels): string
    {
        $written = [];
        foreach ($labels as $name => $value) {
            $written[] = $name.'="'.strtr($value, ['\\' => '\\\\', '"' => '\\"', "\n" => '\\n']).'"';
        }

        return $written === [] ? '' : '{'.implode(',', $written).'}';
    }

    private static function number(float $value): string
    {
        return match (true) {
            is_nan($value) => 'NaN',
            is_infinite($value) => $value > 0 ? '+Inf' : '-Inf',
            $value === floor($value) && abs($value) < 1e15 => sprintf('%d', $value),
            default => (string) json_encode($value),
        };
    }
}
