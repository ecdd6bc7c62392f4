<?php

use App\Storage\EventTables;
use App\Storage\EventUpgrade;
use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Events by month, with a ledger of their ids and a queue of what has arrived; those that are there already are taken over. */
return new class () extends Migration {
    public function up(): void
    {
        // Each part may be there already: whoever interrupts a long migration runs it again.
        Schema::hasColumn('sites', 'page_parameters') || Schema::table('sites', function (Blueprint $table): void {
            $table->json('page_parameters')->default('[]')->comment('query parameters that tell one page from another');
            $table->unsignedInteger('definitions')->default(0)->comment('counts changes to what is counted, for those who keep it in memory');
            $table->unsignedInteger('published_number')->default(0)->comment('number of the newest published file');
        });
        if (! Schema::hasTable('events_before')) {
            Schema::rename('events', 'events_before');
        }
        EventTables::create();
        EventUpgrade::run();
        Schema::drop('events_before');
    }

    public function down(): void
    {
        throw new RuntimeException('Events by month are not put back into one table; restore the backup that was made before.');
    }
};
