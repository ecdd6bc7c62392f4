<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;
use Pellix\Core\Pages\PageKey;

/** Pages of the inventory by the key that events have, with their state as a column to sort and count by; scans with counters. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::table('pages', function (Blueprint $table): void {
            $table->bigInteger('page')->default(0)->comment('of the key; events and addresses join by it');
            $table->unsignedTinyInteger('rank')->default(3)->comment('broken 0, doubt 1, stale 2, unseen 3, holds 4: what needs somebody comes first');
            // Bytes, which are compared faster than characters.
            $table->binary('brief', 160)->default('')->comment('beginning of the address in small letters, to sort and to find by');
            $table->boolean('cut')->default(false)->comment('whether the address is longer than that');
            $table->boolean('flawed')->storedAs("faulty <> '[]'")->comment('whether code that must stand there does not');
            $table->boolean('matched')->default(false)->comment('whether it was held against the page rules of the experiments');
        });
        DB::table('pages')->select('id', 'url')->orderBy('id')->chunkById(1000, static function ($pages): void {
            foreach ($pages as $page) {
                DB::table('pages')->where('id', $page->id)->update(['page' => PageKey::of($page->url)->id, 'brief' => mb_strcut(mb_strtolower($page->url), 0, 160, 'UTF-8'), 'cut' => strlen(mb_strtolower($page->url)) > 160]);
            }
        });
        DB::statement("update pages set `rank` = case when inspected_at is null then 3 when verdict = 'broken' then 0 when verdict = 'doubt' then 1 else 4 end");
        Schema::table('pages', function (Blueprint $table): void {
            $table->index(['site_id', 'page']);
            $table->index(['site_id', 'rank', 'brief'], 'pages_by_need');
            $table->index(['site_id', 'brief'], 'pages_by_address');
            $table->index(['site_id', 'inspected_at', 'brief'], 'pages_by_look');
            $table->index(['site_id', 'matched']);
            $table->index(['site_id', 'cut']);
            $table->index(['site_id', 'flawed', 'rank', 'brief'], 'pages_flawed');
            $table->index(['site_id', 'group_name', 'rank', 'brief'], 'pages_by_group');
            $table->index(['site_id', 'source', 'rank', 'brief'], 'pages_by_source');
        });
        Schema::table('scans', function (Blueprint $table): void {
            $table->unsignedInteger('done')->default(0);
            $table->unsignedInteger('total')->default(0);
        });
        DB::statement('update scans set total = (select count(*) from scan_items where scan_id = scans.id), done = (select count(*) from scan_items where scan_id = scans.id and scan_items.done)');
    }

    public function down(): void
    {
        Schema::table('scans', fn (Blueprint $table) => $table->dropColumn(['done', 'total']));
        Schema::table('pages', function (Blueprint $table): void {
            foreach (['pages_by_need', 'pages_by_address', 'pages_by_look', 'pages_by_group', 'pages_by_source', 'pages_flawed'] as $index) {
                $table->dropIndex($index);
            }
            foreach ([['site_id', 'page'], ['site_id', 'matched'], ['site_id', 'cut']] as $columns) {
                $table->dropIndex($columns);
            }
            $table->dropColumn(['page', 'rank', 'brief', 'cut', 'flawed', 'matched']);
        });
    }
};
