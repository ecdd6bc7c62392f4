<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/** What one load of a page came to, with the snippet or without it. */
final readonly class PageLoad
{
    /**
     * @param list<string> $errors  of the console, without what differs each time
     * @param list<string> $failed  addresses that were not loaded, ours left out
     * @param float        $shifted sum of the layout shifts (Layout Instability API)
     * @param float        $largest milliseconds until the largest contentful paint
     * @param float        $busy    milliseconds of the main thread
     */
    public function __construct(public array $errors, public array $failed, public float $shifted, public float $largest, public float $busy)
    {
    }
}
