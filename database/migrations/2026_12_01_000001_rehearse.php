<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Rehearsals: what a real browser found of an experiment, with what it sent and what it looked like. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('rehearsals', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('experiment_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('kind', 12)->comment('experiment, installation');
            $table->string('state', 10)->comment('waiting, running, done, cancelled, failed');
            $table->string('why', 12)->default('asked')->comment('asked, published, planned');
            $table->string('by', 120);
            $table->foreignId('author_id')->nullable()->constrained('users')->nullOnDelete();
            $table->unsignedInteger('revision')->nullable()->comment('of the experiment');
            $table->unsignedInteger('configuration')->nullable()->comment('number of the published file');
            $table->json('variants')->comment('keys of those that are rehearsed');
            $table->json('screens');
            $table->mediumText('script')->comment('JSON');
            $table->string('doing', 200)->default('')->comment('what it does now, in words');
            $table->unsignedInteger('done')->default(0);
            $table->unsignedInteger('total')->default(0);
            $table->unsignedInteger('blockers')->default(0);
            $table->unsignedInteger('warnings')->default(0);
            $table->unsignedInteger('notes')->default(0);
            $table->json('about')->nullable()->comment('what it vouches for: hashes of variants, goals, wiring and pages');
            $table->string('worker', 80)->nullable()->comment('who works on it');
            $table->dateTime('lease', 3)->nullable()->comment('until when nobody else takes it');
            $table->unsignedTinyInteger('tries')->default(0);
            $table->dateTime('asked_at', 3);
            $table->dateTime('started_at', 3)->nullable();
            $table->dateTime('ended_at', 3)->nullable();
            $table->index(['state', 'id']);
            $table->index(['site_id', 'id']);
            $table->index(['experiment_id', 'id']);
        });
        Schema::create('rehearsal_parts', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('rehearsal_id')->constrained()->cascadeOnDelete();
            $table->unsignedSmallInteger('place');
            $table->string('kind', 12);
            $table->string('variant', 40)->charset('ascii')->collation('ascii_bin')->nullable();
            $table->string('words', 200);
            $table->string('state', 8)->default('waiting')->comment('waiting, running, done');
            $table->unsignedTinyInteger('tries')->default(0);
            $table->double('seconds')->nullable();
            $table->mediumText('result')->nullable()->comment('JSON: findings, proofs, figures');
            $table->unique(['rehearsal_id', 'place']);
        });
        Schema::create('rehearsal_files', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('rehearsal_id')->constrained()->cascadeOnDelete();
            $table->string('name', 120)->charset('ascii')->collation('ascii_bin');
            $table->string('media', 40)->charset('ascii');
            $table->binary('content');
            $table->dateTime('at', 3);
            $table->unique(['rehearsal_id', 'name']);
        });
        DB::statement('alter table rehearsal_files modify content mediumblob not null');
        Schema::create('rehearsal_scripts', function (Blueprint $table): void {
            $table->foreignId('experiment_id')->primary()->constrained()->cascadeOnDelete();
            $table->mediumText('script')->comment('JSON: as somebody has written it');
            $table->string('by', 120);
            $table->dateTime('at', 3);
        });
        Schema::create('rehearsal_plans', function (Blueprint $table): void {
            $table->foreignId('experiment_id')->primary()->constrained()->cascadeOnDelete();
            $table->char('daily_at', 5)->charset('ascii')->nullable()->comment('HH:MM in the time zone of the site');
            $table->boolean('after_publication')->default(false);
            $table->string('by', 120);
        });
        Schema::table('findings', function (Blueprint $table): void {
            $table->foreignId('experiment_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('identity', 200)->nullable()->comment('what tells it from others of its experiment');
        });
        DB::statement('create table rehearsal_events (
            id bigint unsigned not null auto_increment primary key,
            rehearsal_id bigint unsigned not null,
            site_id int unsigned not null,
            visitor varchar(64) character set ascii collate ascii_bin not null default "",
            time datetime(3) not null,
            event_id varchar(64) character set ascii collate ascii_bin null,
            received datetime(3) not null,
            place tinyint unsigned not null default 0,
            clock_shift int not null default 0,
            name varchar(64) character set ascii collate ascii_bin not null default "",
            url varchar(2000) not null default "",
            page bigint not null default 0,
            referrer varchar(2000) null,
            agent varchar(512) not null default "",
            user varchar(200) collate utf8mb4_nopad_bin null,
            unit varchar(200) collate utf8mb4_nopad_bin not null default "",
            configuration int unsigned null,
            experiment varchar(60) character set ascii collate ascii_bin null,
            variant varchar(60) character set ascii collate ascii_bin null,
            device varchar(40) null, browser varchar(40) null, source varchar(40) null, country varchar(40) null,
            props text character set utf8mb4 collate utf8mb4_bin not null comment "JSON; of a rejected one, as it was sent",
            times smallint unsigned not null default 1 comment "how often it was received",
            rejected varchar(40) character set ascii null comment "why",
            message varchar(500) null,
            unique key rehearsal_events_ids (rehearsal_id, event_id),
            key rehearsal_events_visitors (rehearsal_id, visitor, time),
            key rehearsal_events_received (site_id, received)
        ) comment "what rehearsals sent: never counted"');
    }
};
