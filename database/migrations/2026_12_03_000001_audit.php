<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Audits of experiments and of logs that somebody brought, with what they found and what was said of it. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('audit_logs', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('name', 200);
            $table->unsignedBigInteger('size')->comment('bytes it has in all');
            $table->unsignedBigInteger('received')->default(0)->comment('bytes that are here, from its beginning');
            $table->string('state', 8)->default('arriving')->comment('arriving, whole');
            $table->char('sha256', 64)->charset('ascii')->collation('ascii_bin')->nullable();
            $table->mediumText('experiment')->nullable()->comment('JSON: the experiment file that it is audited for');
            $table->text('mapping')->nullable()->comment('JSON; null where its columns are ours');
            $table->string('by', 120);
            $table->dateTime('created_at', 3);
            $table->dateTime('last_at', 3);
            $table->index(['site_id', 'id']);
        });
        Schema::create('audit_log_pieces', function (Blueprint $table): void {
            $table->foreignId('audit_log_id')->constrained()->cascadeOnDelete();
            $table->unsignedInteger('number');
            $table->unsignedInteger('size')->comment('bytes, unpacked');
            $table->primary(['audit_log_id', 'number']);
        });
        DB::statement('alter table audit_log_pieces add content mediumblob not null comment "gzip"');
        Schema::create('audits', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('experiment_id')->nullable()->constrained()->cascadeOnDelete();
            $table->foreignId('audit_log_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('name', 200);
            $table->string('state', 10)->comment('waiting, running, done, cancelled, failed');
            $table->string('why', 12)->comment('asked, daily, published');
            $table->string('by', 120);
            $table->mediumText('settings')->comment('JSON: the experiment and all else that it goes by');
            $table->unsignedSmallInteger('engine');
            $table->string('fingerprint', 80)->charset('ascii')->nullable()->comment('of what was read');
            $table->string('doing', 200)->default('');
            $table->unsignedBigInteger('done')->default(0)->comment('lines or events');
            $table->unsignedBigInteger('total')->default(0);
            $table->string('verdict', 5)->nullable()->comment('fit, doubt, unfit');
            $table->string('sentence', 1000)->default('');
            $table->text('since_last')->nullable()->comment('JSON: what has come and gone since the audit before');
            $table->unsignedInteger('blockers')->default(0);
            $table->unsignedInteger('warnings')->default(0);
            $table->unsignedInteger('notes')->default(0);
            $table->string('worker', 80)->nullable();
            $table->dateTime('lease', 3)->nullable();
            $table->unsignedTinyInteger('tries')->default(0);
            $table->dateTime('asked_at', 3);
            $table->dateTime('started_at', 3)->nullable();
            $table->dateTime('ended_at', 3)->nullable();
            $table->index(['state', 'id']);
            $table->index(['site_id', 'id']);
            $table->index(['experiment_id', 'id']);
            $table->index(['audit_log_id', 'id']);
        });
        Schema::create('audit_results', function (Blueprint $table): void {
            $table->foreignId('audit_id')->primary()->constrained()->cascadeOnDelete();
            $table->longText('report')->comment('JSON');
            $table->longText('views')->comment('JSON');
        });
        DB::statement('alter table audit_results add evidence longblob null comment "what was counted, to test parts of it again; null where it is too large"');
        Schema::create('audit_words', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('experiment_id')->nullable()->constrained()->cascadeOnDelete();
            $table->foreignId('audit_log_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('identity', 300)->charset('utf8mb4')->collation('utf8mb4_bin');
            $table->string('state', 9)->comment('explained, mended');
            $table->string('note', 1000);
            $table->string('by', 120);
            $table->dateTime('at', 3);
            $table->date('until')->nullable()->comment('an explanation holds to the end of that day');
            $table->index(['experiment_id']);
            $table->index(['audit_log_id']);
        });
    }

    public function down(): void
    {
        foreach (['audit_words', 'audit_results', 'audits', 'audit_log_pieces', 'audit_logs'] as $table) {
            Schema::dropIfExists($table);
        }
    }
};
