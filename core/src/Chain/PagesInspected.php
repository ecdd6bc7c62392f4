<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** What inspections found on the known pages that an experiment is for. */
final readonly class PagesInspected
{
    /**
     * @param int                     $known       pages of the inventory that match the page rule
     * @param int                     $inspected   those that were inspected
     * @param int                     $unreachable those that could not be fetched at the last inspection
     * @param int                     $faulty      those on which the snippet is missing or does not work
     * @param string|null             $example     address of one that is unreachable or faulty
     * @param \DateTimeImmutable|null $last        the newest inspection
     */
    public function __construct(
        public int $known = 0,
        public int $inspected = 0,
        public int $unreachable = 0,
        public int $faulty = 0,
        public ?string $example = null,
        public ?\DateTimeImmutable $last = null,
    ) {
    }

    public function sound(): int
    {
        return $this->inspected - $this->unreachable - $this->faulty;
    }

    /** @return list<Evidence> nothing where nobody has looked */
    public function evidence(): array
    {
        if ($this->inspected === 0) {
            return [];
        }
        $what = Words::count($this->known, 'known page').' match; of '.Words::number($this->inspected).' inspected, the snippet stands on '.Words::number($this->sound())
            .($this->faulty > 0 ? ', is missing or broken on '.Words::number($this->faulty) : '')
            .($this->unreachable > 0 ? ', and '.Words::number($this->unreachable).' could not be fetched' : '');

        return [new Evidence($what, $this->last, 'inspection')];
    }
}
