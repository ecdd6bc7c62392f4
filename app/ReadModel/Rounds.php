<?php

namespace App\ReadModel;

use App\Models\Site;

/** Everything that is looked after now and then on every site; other parts of the application add what is theirs. */
final readonly class Rounds
{
    /** @param iterable<Round> $rounds */
    public function __construct(private iterable $rounds, private InspectedPages $pages, private Counts $counts)
    {
    }

    /** @return bool whether there is more to do at once */
    public function make(Site $site): bool
    {
        RecentHits::moveOn($site->id);
        $more = $this->pages->refresh($site);
        $more = $this->counts->sweep($site) || $more;
        foreach ($this->rounds as $round) {
            $more = $round->make($site) || $more;
        }

        return $more;
    }
}
