<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

/** One thing that happened on a site, as received and accepted. */
final readonly class Event
{
    /**
     * @param string               $id         unique within the site
     * @param \DateTimeImmutable   $time       when it happened, by the server's clock
     * @param int                  $clockShift seconds that were added to the visitor's clock
     * @param array<string, mixed> $props
     */
    public function __construct(
        public string $id,
        public string $visitor,
        public ?string $user,
        public \DateTimeImmutable $time,
        public int $clockShift,
        public string $name,
        public string $url,
        public ?string $referrer,
        public array $props,
    ) {
    }

    /** The experiment that the event speaks of, if it does. */
    public function experiment(): ?string
    {
        return $this->key('experiment');
    }

    /** The variant that the event speaks of, if it does. */
    public function variant(): ?string
    {
        return $this->key('variant');
    }

    private function key(string $prop): ?string
    {
        $value = $this->props[$prop] ?? null;

        return is_string($value) && preg_match('/\A[a-z0-9][a-z0-9_-]{0,59}\z/', $value) === 1 ? $value : null;
    }
}
