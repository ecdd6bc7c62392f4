<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What a page is built of, as of its last inspection: so that it can be told which rehearsals it was another page for. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::table('pages', static function (Blueprint $table): void {
            $table->char('outline', 16)->charset('ascii')->collation('ascii_bin')->nullable()->comment('as core/src/Pages/Outline.php makes it');
            $table->index(['site_id', 'source']);
        });
    }
};
