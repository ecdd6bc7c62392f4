<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Rules by which audits leave something out, each with its dates; and what an audit says without them. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('exclusions', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('experiment_id')->nullable()->constrained()->cascadeOnDelete();
            $table->foreignId('audit_log_id')->nullable()->constrained()->cascadeOnDelete();
            $table->mediumText('definition')->comment('JSON, as docs/formats.md has it');
            $table->string('reason', 500);
            $table->string('author', 120);
            $table->dateTime('made_at', 3);
            $table->string('withdrawn_by', 120)->nullable();
            $table->dateTime('withdrawn_at', 3)->nullable();
            $table->index(['site_id', 'withdrawn_at']);
        });
        DB::statement('alter table audit_results add whole_report longtext null comment "JSON: without exclusions; null where there are none", add whole_views longtext null');
    }

    public function down(): void
    {
        Schema::table('audit_results', fn (Blueprint $table) => $table->dropColumn(['whole_report', 'whole_views']));
        Schema::dropIfExists('exclusions');
    }
};
