<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Figures of other sources that were held against an experiment, or a log. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('reconciliations', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('experiment_id')->nullable()->constrained()->cascadeOnDelete();
            $table->foreignId('audit_log_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('name', 200)->comment('of the file of the other source');
            $table->string('subject', 200)->comment('name of the experiment, or of the log');
            $table->mediumText('settings')->comment('JSON: the experiment, mapping, tolerance, window, goal');
            $table->string('state', 10)->charset('ascii')->comment('waiting, running, done, failed');
            $table->string('failure', 500)->nullable();
            $table->string('verdict', 8)->charset('ascii')->nullable()->comment('agree, differ, uneven');
            $table->string('sentence', 1000)->default('');
            $table->longText('result')->nullable()->comment('JSON');
            $table->string('by', 120);
            $table->string('worker', 80)->nullable();
            $table->dateTime('lease', 3)->nullable();
            $table->unsignedTinyInteger('tries')->default(0);
            $table->dateTime('asked_at', 3);
            $table->dateTime('ended_at', 3)->nullable();
            $table->index(['site_id', 'id']);
            $table->index(['state', 'id']);
        });
        DB::statement('alter table reconciliations add content mediumblob not null comment "gzip: the file as it came"');
    }

    public function down(): void
    {
        Schema::dropIfExists('reconciliations');
    }
};
