<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Advice;

/** What is known of a page that a redirect test leads to. */
final readonly class TargetSeen
{
    /**
     * @param string       $field       of the experiment file
     * @param string       $url         absolute
     * @param bool         $isInspected whether it was ever inspected
     * @param list<string> $faulty      what was missing or broken on it then: `page` for one that could not be fetched, `snippet`, …
     * @param list<string> $linkedFrom  known pages with a link to it
     * @param string|null  $chain       name of a running redirect test whose pages match it
     * @param bool         $hasCanonical whether it names another page as its canonical one
     * @param bool         $sharesCookie whether a visitor of the experiment's pages has the same id there
     */
    public function __construct(
        public string $field,
        public string $url,
        public bool $isInspected,
        public array $faulty = [],
        public array $linkedFrom = [],
        public ?string $chain = null,
        public bool $hasCanonical = false,
        public bool $sharesCookie = true,
    ) {
    }
}
