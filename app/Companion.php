<?php

namespace App;

use Illuminate\Console\Command;
use Illuminate\Database\Seeder;

/** Something beside the application that fills and uses it, such as its demo; which one, the setting `pellix.companion` says. */
interface Companion
{
    /** @return list<class-string<Command>> */
    public function commands(): array;

    /** @return class-string<Seeder> fills a copy that is empty, and leaves any other as it is */
    public function seeder(): string;
}
