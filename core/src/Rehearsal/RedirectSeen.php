<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/** Where a browser came to that met a variant of a redirect test. */
final readonly class RedirectSeen
{
    /**
     * @param string       $start    the address that was opened, with a query and a fragment
     * @param string       $target   as the variant declares it
     * @param string       $landed   where it was in the end
     * @param list<string> $hops     pages that it came to, in order
     * @param list<array{url: string, status: int|null, location: string|null}> $documents requests for pages
     * @param string|null  $trouble  why the page was not there in the end; null where it was
     * @param int          $exposures of the experiment that arrived
     * @param string|null  $referrer that the last page view tells as where the visitor had come from
     * @param string       $before   the page before
     * @param string       $back     where the way back led to
     * @param float        $cost     seconds longer than the original
     */
    public function __construct(
        public string $start,
        public string $target,
        public string $landed,
        public array $hops,
        public array $documents,
        public ?string $trouble,
        public int $exposures,
        public ?string $referrer,
        public string $before,
        public string $back,
        public float $cost,
    ) {
    }
}
