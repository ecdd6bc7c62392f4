<?php

namespace App\Console\Commands;

use App\Models\Site;
use App\Publishing\Publisher;
use Illuminate\Console\Command;

class Publish extends Command
{
    protected $signature = 'pellix:publish';

    protected $description = 'Writes the file that each site\'s snippet loads, with the current runtime';

    public function handle(Publisher $publisher): void
    {
        Site::query()->whereNull('archived_at')->each(static fn (Site $site) => $publisher->renew($site));
    }
}
