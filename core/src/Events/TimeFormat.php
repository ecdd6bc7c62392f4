<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Fields;

/** How times are written in a file that was not made for Pellix. */
final readonly class TimeFormat
{
    private \DateTimeZone $place;

    /**
     * @param string $format `rfc3339`, `seconds`, `milliseconds`, `microseconds` (since 1970), or a format of PHP's `DateTimeImmutable::createFromFormat`
     * @param string $zone   of times that do not say theirs
     */
    private function __construct(public string $format, public string $zone)
    {
        $this->place = new \DateTimeZone($zone);
    }

    /**
     * From `{"format":"d.m.Y H:i","zone":"Europe/Berlin"}`, every member of which may be missing.
     *
     * @throws InvalidLog
     */
    public static function read(mixed $json, string $format = 'rfc3339', string $zone = 'UTC'): self
    {
        $fields = new Fields($json ?? [], InvalidLog::class, 'How times are written');
        $read = [$fields->text('format', 60, $format), $fields->text('zone', 60, $zone)];
        if (! in_array($read[1], \DateTimeZone::listIdentifiers(\DateTimeZone::ALL_WITH_BC), true)) {
            throw new InvalidLog("\"{$read[1]}\" is no time zone; write it like Europe/Berlin.", 'zone');
        }

        if (preg_match('/[\x00-\x1f]/', $read[0]) === 1) {
            throw new InvalidLog('A way to write times has no control characters; it is written like d.m.Y H:i:s.', 'format');
        }

        return new self(...$read);
    }

    /** In RFC 3339, where it can be read; what cannot stays as it is. */
    public function of(mixed $value): mixed
    {
        if ($this->format === 'rfc3339' || ! (is_string($value) || is_int($value) || is_float($value))) {
            return $value;
        }
        $per = ['seconds' => 1, 'milliseconds' => 1000, 'microseconds' => 1_000_000][$this->format] ?? null;
        if ($per !== null) {
            return is_numeric($value) && abs((float) $value / $per) < 1e11 ? self::written((float) $value / $per) : $value;
        }
        $moment = $this->moment((string) $value);

        return $moment === null ? $value : $moment->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.v\Z');
    }

    /** By a format of `createFromFormat`, strictly; null where the text is not written so. */
    public function moment(string $text): ?\DateTimeImmutable
    {
        // PHP takes a null byte for a mistake of the program.
        $moment = str_contains($text, "\0") ? false : \DateTimeImmutable::createFromFormat('!'.$this->format, $text, $this->place);

        return $moment === false || (\DateTimeImmutable::getLastErrors()['warning_count'] ?? 0) > 0 ? null : $moment;
    }

    public static function written(float $seconds): string
    {
        $whole = (int) floor($seconds);

        return gmdate('Y-m-d\TH:i:s', $whole).sprintf('.%03dZ', min(999, (int) floor(1000 * ($seconds - $whole) + 0.0005)));
    }

    /** @return array{format: string, zone: string} */
    public function toArray(): array
    {
        return ['format' => $this->format, 'zone' => $this->zone];
    }
}
