<?php

namespace App\Notices\Mail;

use App\Models\Site;
use Carbon\CarbonImmutable;

/** What happened on a site in a week. */
class DigestMail extends SiteMail
{
    /** @param array<string, mixed> $digest see App\Notices\Digests */
    public function __construct(Site $site, private readonly array $digest)
    {
        parent::__construct($site);
    }

    protected function title(): string
    {
        [$new, $running] = [$this->digest['new_count'], $this->digest['running_count']];

        return "{$this->about->name}, the week of {$this->day($this->digest['from'])}: ".($new === 0 ? 'no new trouble' : ($new === 1 ? '1 new trouble' : "{$new} new troubles")).', '.($running === 1 ? '1 experiment runs' : "{$running} experiments run");
    }

    protected function words(): string
    {
        return 'digest';
    }

    /** @return array<string, mixed> */
    protected function shown(): array
    {
        return ['digest' => $this->digest, 'title' => $this->title()];
    }

    private function day(string $at): string
    {
        return CarbonImmutable::parse($at)->setTimezone($this->about->time_zone)->format('j M');
    }
}
