<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Pages\PageKey;
use Pellix\Core\Rules\AddressFacts;

/** Reads single events of a beacon: each is accepted or rejected on its own. */
final class EventReader
{
    private const LONGEST_URL = 2000;

    private const MOST_PROPS = 50;

    private const LARGEST_PROPS = 8192;

    /** @var array<string, PageKey> address => its page: most events of a beacon come from the same */
    private array $pages = [];

    /**
     * @param list<string> $hosts      the site's hosts, in lower case and without ports
     * @param list<string> $parameters query parameters that tell one page of the site from another
     */
    public function __construct(private readonly array $hosts, private readonly ClockShift $clock, private readonly array $parameters = [], private readonly Origin $origin = Origin::Browser)
    {
    }

    /** @throws RejectedEvent */
    public function read(mixed $json): Event
    {
        $fields = new Fields($json, RejectedEvent::class, 'An event');
        $id = '/\A[\x21-\x7e]{1,64}\z/';
        $time = $fields->moment('time') ?? throw new RejectedEvent('An event needs the time it happened.', 'time');

        $url = $this->url($fields);
        [$props, $json] = $this->props($fields);

        $own = $fields->pattern('id', $id, 'An id of 1 to 64 printable ASCII characters, without spaces, is needed.');
        if ($this->origin->isForeign($own)) {
            throw new RejectedEvent('Ids that begin with "pixel:" or "server:" are not for events of a browser.', 'id');
        }

        return new Event(
            $own,
            $fields->pattern('visitor', $id, 'A visitor id of 1 to 64 printable ASCII characters, without spaces, is needed.'),
            $fields->has('user') ? $fields->text('user') : null,
            $this->clock->correct($time),
            $this->clock->seconds,
            $fields->pattern('name', '/\A[A-Za-z][A-Za-z0-9_.-]{0,63}\z/', 'A name of letters, digits, "_", "." and "-", up to 64 long, is needed.'),
            $url,
            $this->pages[$url],
            $fields->has('referrer') && $fields->raw('referrer') !== '' ? $fields->text('referrer', self::LONGEST_URL) : null,
            $props,
            $json,
        );
    }

    /** @param Fields<RejectedEvent> $fields */
    private function url(Fields $fields): string
    {
        $url = $fields->text('url', self::LONGEST_URL);
        if (isset($this->pages[$url])) {
            return $url;
        }
        // Browsers read a backslash as a slash, and drop or escape what is no character of an address (WHATWG URL, 4.4): an
        // address of a page has neither, and no user before its host.
        $host = preg_match('~\Ahttps?://[^\x00-\x20\x7f/?#@\\\\]+(?:[/?#][^\x00-\x20\x7f]*)?\z~i', $url) === 1 ? AddressFacts::of($url)->host : '';
        if ($host === '') {
            throw new RejectedEvent('The absolute http or https address of the page is needed.', 'url');
        }
        if (! in_array($host, $this->hosts, true)) {
            throw new RejectedEvent("The host \"{$host}\" is none of this site's.", 'url');
        }
        $this->pages[$url] = PageKey::of($url, $this->parameters);

        return $url;
    }

    /**
     * @param Fields<RejectedEvent> $fields
     *
     * @return array{array<string, mixed>, string} the properties, and the same as JSON
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
        if ($this->origin === Origin::Browser && in_array($props['via'] ?? null, [Origin::Pixel->value, Origin::Server->value], true)) {
            // What says so did not come that way.
            unset($props['via']);
        }
        $text = json_encode((object) $props, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION);
        if ($text === false || strlen($text) > self::LARGEST_PROPS) {
            throw new RejectedEvent('The properties have finite numbers and at most '.self::LARGEST_PROPS.' bytes of JSON.', 'props');
        }

        /** @var array<string, mixed> $props */
        return [$props, $text];
    }
}
