<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

/** From where an event comes: each has a name space of ids of its own, that no other can write to. */
enum Origin: string
{
    case Browser = 'browser';
    case Pixel = 'pixel';

    /** The site's own back office, with a token. */
    case Server = 'server';

    /** What its ids begin with. */
    public function prefix(): string
    {
        return $this === self::Browser ? '' : "{$this->value}:";
    }

    /** The id that one from there gets, of at most 64 characters. */
    public function id(string $id): string
    {
        $own = $this->prefix().$id;

        return strlen($own) <= 64 ? $own : $this->prefix().hash('xxh128', $id);
    }

    /** Whether an id lies in the name space of another one. */
    public function isForeign(string $id): bool
    {
        foreach (self::cases() as $other) {
            if ($other !== $this && $other->prefix() !== '' && str_starts_with($id, $other->prefix())) {
                return true;
            }
        }

        return false;
    }
}
