<?php

declare(strict_types=1);

namespace Pellix\Core\Notices;

/** A week that people are told about when it is over: from Monday to Monday, by the clock on the wall. */
final readonly class Week
{
    /** Hour of Monday from which on the week before is told. */
    private const HOUR = 8;

    private function __construct(public \DateTimeImmutable $from, public \DateTimeImmutable $to)
    {
    }

    /**
     * The newest week that may be told of.
     *
     * @param \DateTimeImmutable $now in the time zone of the site
     */
    public static function toTell(\DateTimeImmutable $now): self
    {
        $monday = $now->modify('monday this week')->setTime(0, 0);
        if ($now < $monday->setTime(self::HOUR, 0)) {
            $monday = $monday->modify('-7 days');
        }

        return new self($monday->modify('-7 days')->setTime(0, 0), $monday);
    }

    /** Its number in ISO 8601, `2026-W48`. */
    public function name(): string
    {
        return $this->from->format('o-\WW');
    }
}
