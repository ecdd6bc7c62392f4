<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** What the watch has counted of running experiments, so that its next audit reads what is new alone. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('audit_checkpoints', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('experiment_id')->constrained()->cascadeOnDelete();
            $table->boolean('is_whole')->comment('whether nothing is left out of it, whatever the exclusions');
            $table->char('settings', 64)->charset('ascii')->collation('ascii_bin')->comment('SHA-256 of all that it goes by');
            $table->dateTime('until', 3)->comment('what happened and arrived before it is counted');
            $table->dateTime('whole_at', 3)->comment('up to when everything was read at once');
            $table->unsignedInteger('pieces');
            $table->unique(['experiment_id', 'is_whole']);
        });
        Schema::create('audit_checkpoint_pieces', function (Blueprint $table): void {
            $table->foreignId('audit_checkpoint_id')->constrained()->cascadeOnDelete();
            $table->unsignedInteger('number');
            $table->primary(['audit_checkpoint_id', 'number']);
        });
        DB::statement('alter table audit_checkpoint_pieces add content mediumblob not null comment "of one gzip stream"');
        Schema::hasColumn('sites', 'erased_at') || Schema::table('sites', function (Blueprint $table): void {
            $table->dateTime('erased_at', 3)->nullable()->comment('when a person was last erased: what was counted before is counted anew');
        });
        Schema::hasColumn('audits', 'went_on_from') || Schema::table('audits', function (Blueprint $table): void {
            $table->dateTime('went_on_from', 3)->nullable()->comment('only what came later was read; null where everything was');
            $table->unsignedBigInteger('read_events')->nullable()->comment('how many were, of an experiment');
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('audit_checkpoint_pieces');
        Schema::dropIfExists('audit_checkpoints');
        Schema::table('audits', fn (Blueprint $table) => $table->dropColumn(['went_on_from', 'read_events']));
        Schema::table('sites', fn (Blueprint $table) => $table->dropColumn('erased_at'));
    }
};
