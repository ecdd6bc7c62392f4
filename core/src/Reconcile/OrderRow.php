<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

/** An order as one of the two sources tells it, and as a line that is put aside. */
final readonly class OrderRow
{
    public const LONGEST_ID = 100;

    /**
     * @param string                $id    '' where it has none
     * @param int|null              $time  milliseconds since 1970
     * @param string                $variant '' where nobody knows
     * @param string                $told  what tells it from another telling of the same order: the id of the event, the line of the file
     * @param array<string, string> $parts dimension => value
     */
    public function __construct(public string $id, public ?int $time, public ?float $value, public string $currency, public string $variant, public string $told, public array $parts)
    {
    }

    /**
     * @param string $side whose it is: `o` ours, `t` theirs
     */
    public function line(string $side, string $key = ''): string
    {
        return $key."\t".json_encode([$side, $this->id, $this->time, $this->value, $this->currency, $this->variant, $this->told, $this->parts], JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION)."\n";
    }

    /** @return array{string, self} the side, and the order */
    public static function of(string $json): array
    {
        /** @var array{string, string, int|null, float|int|null, string, string, string, array<string, string>} $cells */
        $cells = json_decode($json, true, 4, JSON_THROW_ON_ERROR);
        [$side, $id, $time, $value, $currency, $variant, $told, $parts] = $cells;

        return [$side, new self($id, $time, $value === null ? null : (float) $value, $currency, $variant, $told, $parts)];
    }

    /** What orders of one value have in common, to a hundredth. */
    public function valueKey(): string
    {
        return $this->value === null ? '' : (string) round(100 * $this->value);
    }

    public function isSameValue(self $other): bool
    {
        return $this->value !== null && $other->value !== null && abs($this->value - $other->value) < 0.005;
    }
}
