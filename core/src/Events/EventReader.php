<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Rules\AddressFacts;

/** Reads single events of a beacon: each is accepted or rejected on its own. */
final readonly class EventReader
{
    private const LONGEST_URL = 2000;

    private const MOST_PROPS = 50;

    private const LARGEST_PROPS = 8192;

    /** @param list<string> $hosts the site's hosts, in lower case and without ports */
    public function __construct(private array $hosts, private ClockShift $clock)
    {
    }

    /** @throws RejectedEvent */
    public function read(mixed $json): Event
    {
        $fields = new Fields($json, RejectedEvent::class, 'An event');
        $id = '/\A[\x21-\x7e]{1,64}\z/';
        $time = $fields->moment('time') ?? throw new RejectedEvent('An event needs the time it happened.', 'time');

        return new Event(
            $fields->pattern('id', $id, 'An id of 1 to 64 printable ASCII characters, without spaces, is needed.'),
            $fields->pattern('visitor', $id, 'A visitor id of 1 to 64 printable ASCII characters, without spaces, is needed.'),
            $fields->has('user') ? $fields->text('user') : null,
            $this->clock->correct($time),
            $this->clock->seconds,
            $fields->pattern('name', '/\A[A-Za-z][A-Za-z0-9_.-]{0,63}\z/', 'A name of letters, digits, "_", "." and "-", up to 64 long, is needed.'),
            $this->url($fields),
            $fields->has('referrer') && $fields->raw('referrer') !== '' ? $fields->text('referrer', self::LONGEST_URL) : null,
            $this->props($fields),
        );
    }

    /** @param Fields<RejectedEvent> $fields */
    private function url(Fields $fields): string
    {
        $url = $fields->text('url', self::LONGEST_URL);
        $host = preg_match('~\Ahttps?://~i', $url) === 1 ? AddressFacts::of($url)->host : '';
        if ($host === '') {
            throw new RejectedEvent('The absolute http or https address of the page is needed.', 'url');
        }
        if (! in_array($host, $this->hosts, true)) {
            throw new RejectedEvent("The host \"{$host}\" is none of this site's.", 'url');
        }

        return $url;
    }

    /**
     * @param Fields<RejectedEvent> $fields
     *
     * @return array<string, mixed>
     */
    private function props(Fields $fields): array
    {
        $props = $fields->raw('props') ?? [];
        if (! is_array($props) || ($props !== [] && array_is_list($props))) {
            throw new RejectedEvent('The properties are a JSON object.', 'props');
        }
        if (count($props) > self::MOST_PROPS) {
            throw new RejectedEvent('An event has at most '.self::MOST_PROPS.' properties.', 'props');
        }
        $text = json_encode($props);
        if ($text === false || strlen($text) > self::LARGEST_PROPS) {
            throw new RejectedEvent('The properties have finite numbers and at most '.self::LARGEST_PROPS.' bytes of JSON.', 'props');
        }

        /** @var array<string, mixed> $props */
        return $props;
    }
}
