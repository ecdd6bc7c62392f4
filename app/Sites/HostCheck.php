<?php

namespace App\Sites;

use App\Fetching\FetchFailed;
use App\Fetching\PageFetcher;
use App\Models\Site;

/** Whether a host answers, and what: looked at before a site is made of it. */
final readonly class HostCheck
{
    public function __construct(private PageFetcher $fetcher)
    {
    }

    /** @return array{host: string, answers: bool, words: string} */
    public function of(string $host): array
    {
        // Nothing is kept: the fetcher only needs to know what may be fetched.
        $site = new Site(['hosts' => [$host]]);
        $last = '';
        foreach (['https', 'http'] as $scheme) {
            try {
                $page = $this->fetcher->fetch($site, "{$scheme}://{$host}/");

                return ['host' => $host, 'answers' => $page->status < 500, 'words' => "{$scheme}://{$host}/ answers {$page->status}."];
            } catch (FetchFailed $e) {
                $last = $e->getMessage();
                // That it leads elsewhere is an answer too.
                if (str_contains($last, 'none of this site')) {
                    return ['host' => $host, 'answers' => true, 'words' => "It answers, and leads to another host: {$last}"];
                }
            }
        }

        return ['host' => $host, 'answers' => false, 'words' => "It does not answer: {$last}"];
    }
}
