<?php

declare(strict_types=1);

namespace App\Collector;

use Pellix\Core\Events\Event;
use Pellix\Core\Internal\InternalReason;
use Pellix\Core\Internal\InternalTraffic;
use Pellix\Core\InvalidInput;
use Pellix\Core\Rules\EventFacts;

/** Whether what a beacon brings is the doing of the site's own people or machines. */
final readonly class OwnPeople
{
    private ?InternalTraffic $rules;

    private ?InternalReason $ofAll;

    /** @param string $json the site's rules; empty for none */
    public function __construct(string $json, string $address, private string $agent)
    {
        $this->rules = $json === '' ? null : self::readable($json);
        $this->ofAll = $this->rules?->ofBeacon($address, $agent);
    }

    public function reason(Event $event): ?InternalReason
    {
        return $this->ofAll ?? $this->rules?->ofEvent($event->props[InternalTraffic::PROPERTY] ?? null, new EventFacts($event->name, $event->url, $event->props, $event->referrer, $this->agent));
    }

    /** Rules that cannot be read any more hold nobody's beacons up: everything is counted. */
    private static function readable(string $json): ?InternalTraffic
    {
        try {
            return InternalTraffic::read(json_decode($json, true));
        } catch (InvalidInput) {
            return null;
        }
    }
}
