<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Support\Facades\DB;

/** What only events told of is no page of the inventory until somebody says so: anybody can send events. */
return new class () extends Migration {
    public function up(): void
    {
        DB::table('pages')->where('source', 'seen')->whereNull('inspected_at')->delete();
        DB::statement('update addresses set listed = exists (select 1 from pages where pages.site_id = addresses.site_id and pages.page = addresses.page)');
    }

    public function down(): void
    {
        // They would be taken in again by the next scan.
    }
};
