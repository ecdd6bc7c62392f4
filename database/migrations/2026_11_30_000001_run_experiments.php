<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Experiments are planned, made ready, begun and ended at a time; who has changed what is written down; published files can be put back. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::table('experiments', function (Blueprint $table): void {
            $table->json('plan')->nullable()->comment('what was assumed and wanted, and by whom');
            $table->dateTime('start_at', 3)->nullable()->comment('when it is to start');
            $table->dateTime('end_at', 3)->nullable()->comment('when it is to end');
            $table->unsignedInteger('end_visitors')->nullable()->comment('with how many visitors it is to end');
            $table->string('kept_variant', 40)->charset('ascii')->collation('ascii_bin')->nullable()->comment('served to everybody since it ended');
            $table->dateTime('kept_since', 3)->nullable();
            $table->json('started_over')->nullable()->comment('what spoke against its start, and why it was started all the same');
            $table->string('held_up', 500)->nullable()->comment('why it could not start at its time');
            $table->dateTime('deleted_at', 3)->nullable();
        });
        Schema::table('publications', function (Blueprint $table): void {
            $table->unsignedInteger('puts_back')->nullable()->comment('number of the one whose content it is again');
            $table->string('author', 120)->default('')->comment('who has put it back');
        });
        Schema::table('sites', function (Blueprint $table): void {
            $table->unsignedInteger('held_publication')->nullable()->comment('number that was put back, and stays until somebody publishes again');
            $table->json('publishing')->nullable()->comment('why the newest configuration is not served, and since when');
        });
        Schema::table('visitors', function (Blueprint $table): void {
            $table->unsignedInteger('configuration')->nullable()->comment('number of the newest published file that it met');
        });
        Schema::table('briefs', function (Blueprint $table): void {
            $table->foreignId('experiment_id')->nullable()->constrained()->nullOnDelete();
            $table->string('variant', 40)->charset('ascii')->collation('ascii_bin')->nullable();
            $table->json('content')->nullable()->comment('of a brief about the end of an experiment: what it changed, and what stood there');
        });
        Schema::table('participations', function (Blueprint $table): void {
            $table->boolean('moved')->default(false)->comment('whether it crossed because its variant was stopped');
        });
        Schema::create('configurations_met', function (Blueprint $table): void {
            $table->unsignedInteger('site_id');
            $table->unsignedInteger('number');
            $table->bigInteger('visitors')->comment('visitors of whom it is the newest that they met');
            $table->dateTime('first', 3);
            $table->dateTime('last', 3);
            $table->primary(['site_id', 'number']);
        });
        Schema::create('activity_log', function (Blueprint $table): void {
            $table->id();
            $table->unsignedBigInteger('site_id');
            $table->string('log_name', 20)->nullable()->comment('interface, api, command, pellix');
            $table->text('description');
            $table->nullableMorphs('subject', 'activity_subject');
            $table->string('event', 40)->nullable();
            $table->nullableMorphs('causer', 'activity_causer');
            $table->json('properties')->nullable()->comment('what it was before and after, field by field');
            $table->char('batch_uuid', 36)->nullable();
            $table->string('thing', 20)->charset('ascii')->collation('ascii_bin')->comment('experiment, goal, event, tags, …');
            $table->string('thing_key', 140)->collation('utf8mb4_nopad_bin')->comment('what tells it from others of its kind');
            $table->string('thing_name', 200);
            $table->string('person', 120);
            $table->dateTime('created_at', 3);
            $table->dateTime('updated_at', 3)->nullable();
            $table->index(['site_id', 'id']);
            $table->index(['site_id', 'thing', 'thing_key', 'id']);
            $table->index(['site_id', 'person', 'id']);
            $table->index(['site_id', 'created_at']);
        });
        // Goals are counted by epoch from now on, and who met which published file: from the events.
        DB::table('model_states')->update(['state' => 'rebuilding', 'position' => '', 'done' => 0, 'total' => 0, 'since' => now('UTC')->format('Y-m-d H:i:s.v')]);
    }
};
