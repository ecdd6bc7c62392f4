<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

return new class () extends Migration {
    public function up(): void
    {
        Schema::table('goals', function (Blueprint $table): void {
            $table->json('definition')->default('{}')->comment('the goal of docs/formats.md, without its role');
            $table->unsignedInteger('revision')->default(1);
        });
        foreach (DB::table('goals')->get() as $goal) {
            DB::table('goals')->where('id', $goal->id)->update(['definition' => json_encode(['key' => $goal->key, 'name' => $goal->name, 'kind' => 'page', 'count' => 'every', 'pages' => json_decode($goal->pages, true)])]);
        }
        Schema::table('goals', fn (Blueprint $table) => $table->dropColumn('pages'));
        Schema::create('goal_revisions', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('goal_id')->constrained()->cascadeOnDelete();
            $table->unsignedInteger('revision');
            $table->json('definition');
            $table->string('author');
            $table->dateTime('from', 3);
            $table->unique(['goal_id', 'revision']);
        });
        Schema::create('goal_hits', function (Blueprint $table): void {
            $table->id();
            $table->unsignedBigInteger('site_id');
            $table->foreignId('goal_id')->constrained()->cascadeOnDelete();
            $table->string('visitor', 64)->charset('ascii')->collation('ascii_bin');
            $table->unsignedInteger('session');
            $table->dateTime('time', 3);
            $table->string('url', 2000);
            $table->json('events')->comment('ids of the events that made it');
            $table->double('value')->nullable();
            $table->char('currency', 3)->nullable();
            $table->string('order_id', 200)->nullable();
            $table->index(['goal_id', 'visitor', 'time', 'session']);
            $table->index(['site_id', 'visitor']);
            $table->index(['goal_id', 'order_id']);
        });
        Schema::create('hit_progress', function (Blueprint $table): void {
            $table->unsignedBigInteger('site_id')->primary();
            $table->unsignedBigInteger('event_id')->comment('events up to this one were looked at');
        });
        Schema::create('event_definitions', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('name', 64)->charset('ascii')->collation('ascii_bin');
            $table->string('meaning', 1000)->default('');
            $table->string('sent_from', 300)->default('');
            $table->json('schema')->comment('JSON Schema 2020-12 of the properties');
            $table->json('examples');
            $table->timestamps();
            $table->unique(['site_id', 'name']);
        });
        Schema::table('events', function (Blueprint $table): void {
            $table->index(['site_id', 'visitor', 'time'], 'events_visitors');
        });
    }

    public function down(): void
    {
        Schema::table('events', fn (Blueprint $table) => $table->dropIndex('events_visitors'));
        foreach (['event_definitions', 'hit_progress', 'goal_hits', 'goal_revisions'] as $table) {
            Schema::dropIfExists($table);
        }
        Schema::table('goals', function (Blueprint $table): void {
            $table->json('pages')->default('{}');
            $table->dropColumn(['definition', 'revision']);
        });
    }
};
