<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring;

/** What of a site's settings its pages need to know. */
final readonly class SiteSettings
{
    /**
     * @param string       $key            site key
     * @param list<string> $hosts          in lower case and without ports
     * @param int          $cookieDays     lifetime of the visitor cookie, in days
     * @param int          $sessionMinutes idle time that ends a session, in minutes
     * @param string|null  $dataLayer      name of the array that the site pushes to
     * @param list<DataEvent> $dataEvents how pushes become events
     * @param bool         $asksConsent    whether nothing is kept before the visitor has agreed
     * @param bool         $honoursGpc     whether Global Privacy Control counts as a refusal
     */
    public function __construct(
        public string $key,
        public array $hosts,
        public int $cookieDays,
        public int $sessionMinutes = 30,
        public ?string $dataLayer = null,
        public array $dataEvents = [],
        public bool $asksConsent = false,
        public bool $honoursGpc = false,
    ) {
    }
}
