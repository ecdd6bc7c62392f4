<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Fetching\FetchFailed;
use App\Fetching\PageFetcher;
use App\Models\Site;
use Pellix\Core\Rules\AddressFacts;

/** Where the browser of a rehearsal may go: the site's own hosts and Pellix itself, each at the address that was checked. */
final readonly class Hosts
{
    public function __construct(private PageFetcher $fetcher)
    {
    }

    /**
     * @return array<string, string> name => address
     *
     * @throws FetchFailed where a host of the site leads nowhere, or into a private network
     */
    public function of(Site $site): array
    {
        $all = [];
        foreach ($site->hosts as $i => $host) {
            try {
                $all[$host] = $this->fetcher->resolve($host);
            } catch (FetchFailed $e) {
                // Nothing can be rehearsed without the first; another one that is not there shows where it is missing.
                $i === 0 && throw $e;
            }
        }
        $own = AddressFacts::of((string) config('app.url'))->host;
        $all[$own] = $own === 'localhost' || str_ends_with($own, '.localhost') ? '127.0.0.1' : gethostbyname($own);

        return $all;
    }
}
