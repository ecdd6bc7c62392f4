<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Keys of a site that were replaced and count for a while yet; what a site's own people do, kept apart. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('site_keys', function (Blueprint $table): void {
            $table->char('key', 20)->charset('ascii')->collation('ascii_bin')->primary();
            $table->foreignId('site_id')->index();
            $table->dateTime('replaced_at', 3);
            $table->string('replaced_by', 120);
            $table->dateTime('ends_at', 3)->index()->comment('until then it counts as the present one does');
            $table->dateTime('last', 3)->nullable()->comment('when a beacon came with it');
            $table->string('last_page', 500)->default('');
            $table->dateTime('removed_at', 3)->nullable()->comment('since when its file is gone');
        });
        Schema::table('sites', function (Blueprint $table): void {
            $table->dateTime('key_since', 3)->nullable();
            $table->longText('internal')->charset('utf8mb4')->collation('utf8mb4_bin')->nullable()->comment('JSON: by what own people are known');
        });
        DB::statement('create table own_events like rehearsal_events');
        DB::statement('alter table own_events drop key rehearsal_events_ids, drop key rehearsal_events_visitors, drop column rehearsal_id,
            add unique key own_events_ids (site_id, event_id), add key own_events_visitors (site_id, visitor, time), comment "what own people did: never counted"');
        DB::statement('create table own_counts (
            site_id int unsigned not null,
            day date not null,
            reason varchar(8) character set ascii not null,
            n bigint unsigned not null,
            last datetime(3) not null,
            primary key (site_id, day, reason)
        )');
    }

    public function down(): void
    {
        Schema::dropIfExists('own_counts');
        Schema::dropIfExists('own_events');
        Schema::table('sites', fn (Blueprint $table) => $table->dropColumn(['key_since', 'internal']));
        Schema::dropIfExists('site_keys');
    }
};
