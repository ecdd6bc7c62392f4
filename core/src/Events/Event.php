<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Pages\PageKey;

/** One thing that happened on a site, as received and accepted. */
final readonly class Event
{
    /**
     * @param string               $id         unique within the site
     * @param \DateTimeImmutable   $time       when it happened, by the server's clock
     * @param int                  $clockShift seconds that were added to the visitor's clock
     * @param array<string, mixed> $props
     * @param string               $propsJson  the same as JSON, an object, encoded once
     */
    public function __construct(
        public string $id,
        public string $visitor,
        public ?string $user,
        public \DateTimeImmutable $time,
        public int $clockShift,
        public string $name,
        public string $url,
        public PageKey $page,
        public ?string $referrer,
        public array $props,
        public string $propsJson,
    ) {
    }

    /** The experiment that the event speaks of, if it does. */
    public function experiment(): ?string
    {
        return OwnProps::key($this->props, 'experiment');
    }

    /** The variant that the event speaks of, if it does. */
    public function variant(): ?string
    {
        return OwnProps::key($this->props, 'variant');
    }

    /** The id that its experiment was assigned by: the user where the event says so, else the visitor. */
    public function unit(): string
    {
        return ($this->props['unit'] ?? null) === 'user' && $this->user !== null ? $this->user : $this->visitor;
    }
}
