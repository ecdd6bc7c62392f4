<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class () extends Migration {
    public function up(): void
    {
        Schema::create('sites', function (Blueprint $table): void {
            $table->id();
            $table->string('key', 20)->charset('ascii')->collation('ascii_bin')->unique();
            $table->string('name');
            $table->json('hosts')->comment('lower case, without ports');
            $table->string('time_zone', 64);
            $table->char('currency', 3);
            $table->unsignedSmallInteger('cookie_days');
            $table->double('srm_alpha');
            $table->unsignedInteger('fresh_seconds')->comment('older evidence is stale');
            $table->timestamps();
        });
        Schema::create('site_user', function (Blueprint $table): void {
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->primary(['site_id', 'user_id']);
        });
        Schema::create('goals', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('key', 60)->charset('ascii')->collation('ascii_bin');
            $table->string('name');
            $table->json('pages')->comment('page rule');
            $table->timestamps();
            $table->unique(['site_id', 'key']);
        });
        Schema::create('experiments', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('key', 60)->charset('ascii')->collation('ascii_bin');
            $table->string('name');
            $table->text('hypothesis');
            $table->string('state', 16)->comment('draft, running, paused, ended, archived');
            $table->string('salt', 64)->charset('ascii')->collation('ascii_bin');
            $table->double('share');
            $table->json('variants');
            $table->json('pages')->comment('page rule');
            $table->json('stretches')->comment('when it ran: a list of [from, to]; to is null while it runs');
            $table->dateTime('started_at', 3)->nullable();
            $table->dateTime('ended_at', 3)->nullable();
            $table->dateTime('changed_at', 3)->comment('last change to what visitors meet');
            $table->timestamps();
            $table->unique(['site_id', 'key']);
        });
        Schema::create('experiment_goal', function (Blueprint $table): void {
            $table->foreignId('experiment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('goal_id')->constrained()->cascadeOnDelete();
            $table->string('role', 16);
            $table->unsignedSmallInteger('position');
            $table->primary(['experiment_id', 'goal_id']);
        });
    }

    public function down(): void
    {
        foreach (['experiment_goal', 'experiments', 'goals', 'site_user', 'sites'] as $table) {
            Schema::dropIfExists($table);
        }
    }
};
