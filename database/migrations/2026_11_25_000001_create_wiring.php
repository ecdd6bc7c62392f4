<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class () extends Migration {
    public function up(): void
    {
        Schema::table('sites', function (Blueprint $table): void {
            $table->string('data_layer', 64)->nullable()->comment('name of the array that the site pushes to');
            $table->json('data_events')->default('[]')->comment('how pushes become events');
            $table->string('consent_mode', 8)->default('none')->comment('none: nobody is asked; ask: nothing is kept before consent');
            $table->boolean('honour_gpc')->default(false)->comment('whether Global Privacy Control counts as a refusal');
            $table->unsignedSmallInteger('session_minutes')->default(30);
            $table->json('tags')->default('[]')->comment('tags that are being worked on');
            $table->unsignedInteger('tags_revision')->default(0)->comment('counts saves, so that nobody overwrites another\'s');
            $table->json('page_groups')->default('[]');
        });
        Schema::table('experiments', function (Blueprint $table): void {
            $table->json('trigger')->nullable()->comment('what starts it on a page; null: the page view');
        });
        Schema::create('wiring_versions', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->unsignedInteger('number');
            $table->string('author');
            $table->string('note', 500);
            $table->unsignedInteger('restores')->nullable()->comment('number of the version whose tags these are again');
            $table->json('tags');
            $table->dateTime('published_at', 3);
            $table->unique(['site_id', 'number']);
        });
        Schema::create('pages', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('url', 2000);
            $table->char('hash', 16)->charset('ascii')->collation('ascii_bin')->comment('xxh3 of the url');
            $table->string('source', 8)->comment('sitemap, crawl, typed, seen');
            $table->boolean('in_sitemap')->default(false);
            $table->string('group_name', 80)->nullable();
            $table->dateTime('added_at', 3);
            $table->string('verdict', 8)->nullable()->comment('of the last inspection: sound, doubt, broken');
            $table->json('faulty')->default('[]')->comment('which of the required code is missing or does not work');
            $table->dateTime('inspected_at', 3)->nullable();
            $table->unique(['site_id', 'hash']);
            $table->index(['site_id', 'verdict']);
        });
        Schema::create('inspections', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('page_id')->constrained()->cascadeOnDelete();
            $table->dateTime('first_at', 3)->comment('first and last time that the page was found like this');
            $table->dateTime('last_at', 3);
            $table->string('verdict', 8);
            $table->mediumText('findings');
        });
        Schema::create('scans', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('kind', 8)->comment('find, inspect');
            $table->string('state', 10)->comment('running, done, cancelled');
            $table->string('by');
            $table->unsignedTinyInteger('depth')->default(0);
            $table->unsignedInteger('most')->default(0)->comment('pages that are looked at, at most');
            $table->unsignedInteger('found')->default(0)->comment('pages that were not known before');
            $table->json('notes')->default('[]');
            $table->dateTime('started_at', 3);
            $table->dateTime('ended_at', 3)->nullable();
            $table->index(['site_id', 'state']);
        });
        Schema::create('scan_items', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('scan_id')->constrained()->cascadeOnDelete();
            $table->string('what', 8)->comment('page, sitemap');
            $table->string('url', 2000);
            $table->char('hash', 16)->charset('ascii')->collation('ascii_bin');
            $table->unsignedTinyInteger('depth')->default(0);
            $table->boolean('done')->default(false);
            $table->unique(['scan_id', 'hash']);
            $table->index(['scan_id', 'done']);
        });
        Schema::create('findings', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('page_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('code', 64);
            $table->string('severity', 8);
            $table->string('link', 10);
            $table->string('message', 1000);
            $table->string('fix', 1000);
            $table->dateTime('since', 3);
            $table->string('state', 10)->default('open')->comment('open, explained, mended');
            $table->string('note', 500)->nullable();
            $table->index(['site_id', 'state']);
        });
        Schema::create('briefs', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('recipient', 120);
            $table->string('message', 2000)->default('');
            $table->char('token_hash', 64)->charset('ascii')->collation('ascii_bin')->unique();
            $table->text('token')->comment('encrypted, so that the link can be copied again');
            $table->unsignedSmallInteger('guard_ms')->nullable();
            $table->string('author');
            $table->dateTime('created_at', 3);
            $table->dateTime('expires_at', 3);
            $table->dateTime('revoked_at', 3)->nullable();
            $table->dateTime('read_at', 3)->nullable();
        });
        Schema::create('jobs', function (Blueprint $table): void {
            $table->id();
            $table->string('queue')->index();
            $table->longText('payload');
            $table->unsignedTinyInteger('attempts');
            $table->unsignedInteger('reserved_at')->nullable();
            $table->unsignedInteger('available_at');
            $table->unsignedInteger('created_at');
        });
        Schema::create('failed_jobs', function (Blueprint $table): void {
            $table->id();
            $table->string('uuid')->unique();
            $table->text('connection');
            $table->text('queue');
            $table->longText('payload');
            $table->longText('exception');
            $table->timestamp('failed_at')->useCurrent();
        });
    }

    public function down(): void
    {
        foreach (['failed_jobs', 'jobs', 'briefs', 'findings', 'scan_items', 'scans', 'inspections', 'pages', 'wiring_versions'] as $table) {
            Schema::dropIfExists($table);
        }
        Schema::table('experiments', fn (Blueprint $table) => $table->dropColumn('trigger'));
        Schema::table('sites', fn (Blueprint $table) => $table->dropColumn(['data_layer', 'data_events', 'consent_mode', 'honour_gpc', 'session_minutes', 'tags', 'tags_revision', 'page_groups']));
    }
};
