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

    /**
     * @param string $host  as it is kept
     * @param string $typed as it was typed: an address says by which scheme and port
     *
     * @return array{host: string, answers: bool, words: string}
     */
    public function of(string $host, string $typed): array
    {
        // Nothing is kept: the fetcher only needs to know what may be fetched.
        $site = new Site(['hosts' => [$host]]);
        preg_match('~\A\s*(?:(https?)://)?[^/?#:]*(:\d{1,5})?~i', $typed, $m);
        $last = '';
        foreach (($m[1] ?? '') === '' ? ['https', 'http'] : [strtolower($m[1])] as $scheme) {
            $origin = "{$scheme}://{$host}".($m[2] ?? '').'/';
            try {
                $page = $this->fetcher->fetch($site, $origin);

                return ['host' => $host, 'answers' => $page->status < 500, 'words' => "{$origin} answers {$page->status}."];
            } catch (FetchFailed $e) {
                $last = $e->getMessage();
                // That it leads elsewhere is an answer too.
                if (str_contains($last, 'none of this site')) {
                    return ['host' => $host, 'answers' => true, 'words' => "It answers, and leads elsewhere: {$last}"];
                }
            }
        }

        return ['host' => $host, 'answers' => false, 'words' => "It does not answer: {$last}"];
    }
}
