<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Figures that workers keep up to date, so that a request only reads. All of it can be made again from the events. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::dropIfExists('goal_hits');
        Schema::dropIfExists('hit_progress');

        Schema::create('model_states', function (Blueprint $table): void {
            $table->unsignedInteger('site_id')->primary();
            $table->string('state', 12)->default('current')->comment('current, rebuilding');
            $table->string('position', 64)->charset('ascii')->collation('ascii_bin')->default('')->comment('visitors up to this one are rebuilt');
            $table->unsignedBigInteger('done')->default(0);
            $table->unsignedBigInteger('total')->default(0);
            $table->dateTime('since', 3)->nullable();
            $table->dateTime('gathered', 3)->nullable()->comment('when arrivals were last taken in');
        });
        Schema::create('counts', function (Blueprint $table): void {
            $table->id();
            $table->unsignedInteger('site_id');
            $table->string('kind', 12)->comment('goal, experiment');
            $table->unsignedBigInteger('subject_id');
            $table->string('state', 12)->comment('building, current, old');
            $table->json('definition')->comment('what is counted');
            $table->string('position', 64)->charset('ascii')->collation('ascii_bin')->default('')->comment('visitors up to this one are counted');
            $table->dateTime('since', 3)->nullable()->comment('only visitors seen from then on matter');
            $table->unsignedBigInteger('done')->default(0);
            $table->unsignedBigInteger('total')->default(0);
            $table->dateTime('started_at', 3);
            $table->string('error', 500)->nullable();
            $table->json('examples')->default('[]')->comment('of an experiment: addresses of pages that were viewed');
            $table->index(['site_id', 'state']);
            $table->index(['kind', 'subject_id', 'state']);
        });
        Schema::create('visitors', function (Blueprint $table): void {
            $table->unsignedInteger('site_id');
            $table->string('visitor', 64)->charset('ascii')->collation('ascii_bin');
            $table->dateTime('first', 3);
            $table->dateTime('last', 3);
            $table->dateTime('last_view', 3)->nullable();
            $table->unsignedInteger('events');
            $table->primary(['site_id', 'visitor']);
        });
        Schema::create('addresses', function (Blueprint $table): void {
            $table->unsignedInteger('site_id');
            $table->bigInteger('page')->comment('of the key; events and pages join by it');
            $table->string('url', 2000)->comment('the key');
            $table->string('host');
            $table->dateTime('first', 3);
            $table->boolean('listed')->default(false)->comment('whether the inventory was offered it');
            $table->primary(['site_id', 'page']);
            $table->index(['site_id', 'listed']);
            $table->index(['site_id', 'host', 'first']);
        });
        Schema::create('volumes', function (Blueprint $table): void {
            $table->unsignedInteger('site_id');
            $table->string('by', 8)->charset('ascii')->collation('ascii_bin')->comment('event, host, variant, browser, tag, rejected, late');
            $table->string('item', 140)->collation('utf8mb4_nopad_bin');
            $table->dateTime('hour');
            $table->unsignedBigInteger('n');
            $table->dateTime('last', 3);
            $table->primary(['site_id', 'by', 'item', 'hour']);
        });
        Schema::create('page_volumes', function (Blueprint $table): void {
            $table->unsignedInteger('site_id');
            $table->bigInteger('page');
            $table->dateTime('hour');
            $table->unsignedInteger('n')->comment('page views');
            $table->dateTime('last', 3);
            $table->primary(['site_id', 'page', 'hour']);
        });
        Schema::create('view_hours', function (Blueprint $table): void {
            $table->unsignedInteger('site_id');
            $table->dateTime('hour');
            $table->bigInteger('visitors')->comment('visitors whose last page view lies in this hour');
            $table->primary(['site_id', 'hour']);
        });
        Schema::create('participations', function (Blueprint $table): void {
            $table->unsignedInteger('site_id');
            $table->string('unit', 200)->collation('utf8mb4_nopad_bin');
            $table->unsignedBigInteger('count_id');
            $table->unsignedInteger('views');
            $table->unsignedInteger('exposures');
            $table->unsignedInteger('applied');
            $table->unsignedInteger('missed');
            $table->string('variant', 60)->charset('ascii')->collation('ascii_bin')->nullable()->comment('of the first exposure');
            $table->boolean('crossed');
            $table->unsignedSmallInteger('epoch')->nullable();
            $table->dateTime('first', 3)->nullable();
            $table->dateTime('last', 3)->nullable();
            $table->bigInteger('page')->nullable()->comment('of the first exposure');
            foreach (['device', 'browser', 'source', 'country'] as $segment) {
                $table->string($segment, 40)->nullable();
            }
            $table->primary(['site_id', 'unit', 'count_id']);
            $table->index(['count_id', 'first']);
        });
        Schema::create('goal_hits', function (Blueprint $table): void {
            $table->unsignedInteger('site_id');
            $table->string('visitor', 64)->charset('ascii')->collation('ascii_bin');
            $table->unsignedBigInteger('count_id');
            $table->dateTime('time', 3);
            $table->string('event_id', 64)->charset('ascii')->collation('ascii_bin')->comment('of the event that completed it');
            $table->string('user', 200)->collation('utf8mb4_nopad_bin')->nullable();
            $table->dateTime('session', 3)->comment('begin of the session');
            $table->string('url', 2000);
            $table->text('events')->comment('ids of the events that made it, a JSON list');
            $table->decimal('value', 36, 6)->nullable();
            $table->char('currency', 3)->nullable();
            $table->string('order_id', 200)->collation('utf8mb4_nopad_bin')->nullable();
            $table->boolean('counts')->default(true)->comment('false for an order that was counted before');
            $table->primary(['site_id', 'visitor', 'count_id', 'time', 'event_id']);
            $table->index(['count_id', 'time']);
            $table->index(['count_id', 'order_id']);
            $table->index(['site_id', 'user']);
        });
        Schema::create('goal_hours', function (Blueprint $table): void {
            $table->unsignedBigInteger('count_id');
            $table->dateTime('hour');
            $table->bigInteger('hits')->comment('those that count, whatever the count mode');
            $table->bigInteger('sessions')->comment('sessions whose last hit lies in this hour');
            $table->bigInteger('visitors')->comment('visitors whose last hit lies in this hour');
            $table->primary(['count_id', 'hour']);
        });
        Schema::create('figures', function (Blueprint $table): void {
            $table->unsignedBigInteger('count_id');
            $table->string('figure', 150)->charset('ascii')->collation('ascii_bin');
            $table->bigInteger('n')->default(0);
            $table->dateTime('last', 3)->nullable();
            $table->primary(['count_id', 'figure']);
        });
        Schema::create('readings', function (Blueprint $table): void {
            $table->unsignedInteger('site_id');
            $table->string('kind', 12)->comment('experiment, recent, events, conformance, coverage, inspected');
            $table->string('subject', 64)->charset('ascii')->collation('ascii_bin');
            $table->mediumText('content')->comment('JSON');
            $table->dateTime('read_at', 3);
            $table->primary(['site_id', 'kind', 'subject']);
        });
        Schema::create('page_matches', function (Blueprint $table): void {
            $table->unsignedBigInteger('experiment_id');
            $table->unsignedBigInteger('page_id')->comment('of the inventory');
            $table->primary(['experiment_id', 'page_id']);
            $table->index('page_id');
        });
        Schema::create('trials', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->json('definition');
            $table->string('state', 10)->comment('running, done, failed');
            $table->unsignedInteger('done')->default(0);
            $table->unsignedInteger('total')->default(0);
            $table->mediumText('result')->nullable();
            $table->dateTime('started_at', 3);
            $table->index(['site_id', 'started_at']);
        });
        foreach (DB::table('sites')->pluck('id') as $site) {
            DB::table('model_states')->insert(['site_id' => $site, 'state' => 'rebuilding', 'since' => now('UTC')->format('Y-m-d H:i:s.v')]);
        }
    }

    public function down(): void
    {
        foreach (['trials', 'page_matches', 'readings', 'figures', 'goal_hours', 'goal_hits', 'participations', 'view_hours', 'page_volumes', 'volumes', 'addresses', 'visitors', 'counts', 'model_states'] as $table) {
            Schema::dropIfExists($table);
        }
    }
};
