<?php

namespace App\Notices\Mail;

use App\Models\Notice;
use App\Models\Site;
use App\Notices\Payload;

/** New troubles of running experiments of a site, and what is to be decided. */
class TroublesMail extends SiteMail
{
    /** @param list<Notice> $notices */
    public function __construct(Site $site, private readonly array $notices)
    {
        parent::__construct($site);
    }

    protected function title(): string
    {
        $first = $this->notices[0] ?? null;
        $more = count($this->notices) - 1;
        // The figures stand in the mail.
        $what = (string) preg_replace('/ \(.*\z/s', '', $first->message ?? '');

        return ($first?->experiment->name ?? $this->about->name).': '.$what.($more > 0 ? " (and {$more} more)" : '');
    }

    protected function words(): string
    {
        return 'troubles';
    }

    /** @return array<string, mixed> */
    protected function shown(): array
    {
        $decisions = count(array_filter($this->notices, static fn (Notice $one): bool => $one->isDecision()));
        $head = match (true) {
            $decisions === 0 => count($this->notices) === 1 ? 'a new trouble' : count($this->notices).' new troubles',
            $decisions === count($this->notices) => $decisions === 1 ? 'an experiment is to be decided' : "{$decisions} experiments are to be decided",
            default => count($this->notices).' things are new',
        };

        return ['head' => $head, 'notices' => $this->notices, 'address' => fn (Notice $one): string => Payload::address($this->about, $one)];
    }
}
