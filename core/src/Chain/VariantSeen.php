<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** One variant, as declared and as observed. */
final readonly class VariantSeen
{
    /**
     * @param int  $changes   how many changes the variant declares
     * @param Seen $exposures exposure events; visitors are those seen in this variant only
     * @param Seen $applied   confirmations by a browser that every change was applied
     * @param Seen $missed    reports by a browser that an element for a change never appeared
     * @param Seen $reverted  reports that the page took changes back as often as they were made
     * @param Seen $failed    reports that a change ran into an error
     */
    public function __construct(
        public string $key,
        public string $name,
        public float $weight,
        public int $changes,
        public Seen $exposures,
        public Seen $applied,
        public Seen $missed,
        public Seen $reverted = new Seen(),
        public Seen $failed = new Seen(),
    ) {
    }
}
