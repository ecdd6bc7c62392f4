<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/**
 * What is typed into forms: data of nobody, so unlikely that wherever it turns up, it came from there.
 */
final readonly class MadeUp
{
    /** @var array<string, string> placeholder => value */
    public array $values;

    /** @param string $mark six letters, other ones for every visitor */
    public function __construct(public string $mark)
    {
        // example.org is kept for examples (RFC 2606, 3); the numbers after +44 7700 900 are nobody's (Ofcom's numbers for drama; from memory).
        $this->values = [
            'name' => 'Wren Tallow'.$mark,
            'mail' => "wren.{$mark}@example.org",
            'phone' => '+447700900'.sprintf('%03d', crc32($mark) % 1000),
            'street' => "{$mark} Lane 4",
            'town' => "Upper {$mark}",
            'text' => "made up {$mark}",
        ];
    }

    /** A text with `{name}`, `{mail}` and the like filled in. */
    public function fill(string $text): string
    {
        return strtr($text, array_combine(array_map(static fn (string $name): string => "{{$name}}", array_keys($this->values)), $this->values));
    }

    /**
     * What suits a field.
     *
     * @param string $type  as HTML names it
     * @param string $name  all that it is called: its name, id, label
     * @param string $least the least that it takes, of numbers and dates; empty for any
     */
    public function for(string $type, string $name, string $least = ''): string
    {
        return match (true) {
            $type === 'email' || preg_match('/mail/i', $name) === 1 => $this->values['mail'],
            $type === 'tel' || preg_match('/phone|\btel|mobile/i', $name) === 1 => $this->values['phone'],
            $type === 'number' => $least === '' ? '1' : $least,
            $type === 'password' => "Made-up-{$this->mark}-7",
            $type === 'date' => max('2031-05-14', $least),
            $type === 'month' => max('2031-05', $least),
            $type === 'week' => max('2031-W20', $least),
            $type === 'time' => '10:30',
            $type === 'datetime-local' => max('2031-05-14T10:30', $least),
            $type === 'url' => 'https://example.org/',
            preg_match('/zip|postal|postcode|plz/i', $name) === 1 => '10115',
            preg_match('/street|address/i', $name) === 1 => $this->values['street'],
            preg_match('/town|city/i', $name) === 1 => $this->values['town'],
            preg_match('/name/i', $name) === 1 => $this->values['name'],
            default => $this->values['text'],
        };
    }
}
