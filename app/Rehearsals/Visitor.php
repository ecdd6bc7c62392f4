<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Rehearsals\Browser\Tab;

/** A made-up visitor of a rehearsal: a browser window, the id that the visitor is known by, and the variant that it leads to. */
final readonly class Visitor
{
    public function __construct(public Tab $tab, public ?string $id, public string $variant)
    {
    }

    /** The id that is kept in the browser now. */
    public function known(string $url): ?string
    {
        return $this->tab->cookies($url)['plx_visitor']['value'] ?? null;
    }

    public function leave(): void
    {
        $this->tab->leave();
    }
}
