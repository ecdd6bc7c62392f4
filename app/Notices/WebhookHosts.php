<?php

declare(strict_types=1);

namespace App\Notices;

use App\Models\Site;
use Pellix\Core\Rules\AddressFacts;

/** Which hosts may be called: a site's own, and those that whoever runs this copy has named. */
final readonly class WebhookHosts
{
    /** @param list<string> $allowed hosts, and with them those below them; `*` for every one */
    public function __construct(private array $allowed)
    {
    }

    /** Why an address is not called, with what to do; null where it may be. */
    public function refusal(Site $site, string $url): ?string
    {
        if (preg_match('~\A(https?)://[^/?#@\s\\\\]+(?=[/?#]|\z)[^\s#]*\z~i', $url, $m) !== 1) {
            return 'Give a whole address that begins with https://, without a user name and without "#".';
        }
        $host = AddressFacts::of($url)->host;
        if (in_array($host, $site->hosts, true)) {
            return null;
        }
        if (! $this->isAllowed($host)) {
            return "The host \"{$host}\" is none of this site's (".implode(', ', $site->hosts).'). Whoever runs this copy can allow it with PELLIX_WEBHOOK_HOSTS.';
        }

        return strtolower($m[1]) === 'https' ? null : 'Other hosts than the site\'s own are called with https:// alone: what is told passes through foreign networks.';
    }

    private function isAllowed(string $host): bool
    {
        foreach ($this->allowed as $one) {
            if ($one === '*' || $host === $one || str_ends_with($host, ".{$one}")) {
                return true;
            }
        }

        return false;
    }
}
