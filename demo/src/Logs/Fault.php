<?php

declare(strict_types=1);

namespace Demo\Logs;

/** Something that goes wrong in a log: what, for whom, when, and how much. */
final readonly class Fault
{
    private const PARAMETERS = ['variant', 'device', 'browser', 'source', 'country', 'page', 'event', 'host', 'since', 'until', 'strength'];

    /** @param array<string, string> $of */
    private function __construct(public string $name, private array $of)
    {
    }

    /**
     * From `lose:variant=short:browser=safari:since=10:strength=0.1`; days are counted from the begin of the log.
     *
     * @throws \InvalidArgumentException with a sentence for whoever typed it
     */
    public static function parse(string $text): self
    {
        $parts = explode(':', $text);
        $name = array_shift($parts);
        if (! isset(Faults::ALL[$name])) {
            throw new \InvalidArgumentException("There is no fault \"{$name}\"; --list-faults tells them.");
        }
        $of = [];
        foreach ($parts as $part) {
            [$parameter, $value] = explode('=', $part, 2) + [1 => ''];
            if (! in_array($parameter, self::PARAMETERS, true) || $value === '') {
                throw new \InvalidArgumentException("\"{$part}\" is no parameter of a fault: ".implode(', ', self::PARAMETERS).', each with =VALUE.');
            }
            if (in_array($parameter, ['since', 'until', 'strength'], true) && ! is_numeric($value)) {
                throw new \InvalidArgumentException("\"{$part}\": a number is needed.");
            }
            $of[$parameter] = $value;
        }

        return new self($name, $of);
    }

    public function get(string $parameter, string $otherwise): string
    {
        return $this->of[$parameter] ?? $otherwise;
    }

    public function strength(float $otherwise): float
    {
        return (float) ($this->of['strength'] ?? $otherwise);
    }

    /** Days from the begin of the log. */
    public function since(float $otherwise = 0.0): float
    {
        return (float) ($this->of['since'] ?? $otherwise);
    }

    /** Whether it is about that visitor, whenever that was. */
    public function isAbout(Person $person): bool
    {
        foreach (['device' => $person->device, 'browser' => $person->browser, 'source' => $person->source, 'country' => $person->country] as $parameter => $value) {
            if (isset($this->of[$parameter]) && $this->of[$parameter] !== $value) {
                return false;
            }
        }

        return ! isset($this->of['variant']) || $this->of['variant'] === $person->variant;
    }

    /** Whether it acts at a moment, given in days from the begin of the log. */
    public function isAt(float $day): bool
    {
        return $day >= $this->since() && $day < (float) ($this->of['until'] ?? INF);
    }

    /** @param array<string, mixed> $event */
    public function touches(array $event): bool
    {
        $address = explode('/', substr((string) $event['url'], 8), 2) + ['', ''];

        return (! isset($this->of['event']) || $this->of['event'] === $event['name'])
            && (! isset($this->of['host']) || $this->of['host'] === $address[0])
            && (! isset($this->of['page']) || $this->of['page'] === '/'.strtok($address[1].'?', '?#'));
    }
}
