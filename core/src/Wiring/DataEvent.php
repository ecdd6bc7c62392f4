<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring;

use Pellix\Core\Formats\Fields;

/** How a push onto the site's data layer becomes an event. */
final readonly class DataEvent
{
    private const MOST_PROPS = 20;

    /** @param array<string, string> $props property of the event => path in the push */
    private function __construct(public string $push, public string $name, public array $props)
    {
    }

    /**
     * From `{"push":"loan.booked","name":"loan_booked","props":{"value":"loan.deposit"}}`: what is pushed with that `event`.
     *
     * @throws InvalidWiring
     */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidWiring::class, 'A mapping');
        $props = [];
        $raw = $fields->raw('props') ?? [];
        if (! is_array($raw) || count($raw) > self::MOST_PROPS) {
            throw new InvalidWiring('At most '.self::MOST_PROPS.' properties, each with its path in the push, are needed.', 'props');
        }
        foreach ($raw as $prop => $path) {
            if (! is_string($path) || $path === '' || preg_match('/\A[A-Za-z_][A-Za-z0-9_.-]{0,63}\z/', (string) $prop) !== 1) {
                throw new InvalidWiring('A property has a name of letters and digits, and a path such as loan.deposit.', 'props');
            }
            $props[(string) $prop] = $path;
        }

        return new self(
            $fields->text('push', 100),
            $fields->pattern('name', '/\A[A-Za-z][A-Za-z0-9_.-]{0,63}\z/', 'A name of letters, digits, "_", "." and "-", up to 64 long, is needed.'),
            $props,
        );
    }

    /** @return array{push: string, name: string, props: object} */
    public function toArray(): array
    {
        return ['push' => $this->push, 'name' => $this->name, 'props' => (object) $this->props];
    }
}
