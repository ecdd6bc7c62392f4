<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class () extends Migration {
    public function up(): void
    {
        Schema::create('events', function (Blueprint $table): void {
            $table->id();
            $table->unsignedBigInteger('site_id');
            $table->string('event_id', 64)->charset('ascii')->collation('ascii_bin');
            $table->string('visitor', 64)->charset('ascii')->collation('ascii_bin');
            $table->string('user', 200)->nullable();
            $table->dateTime('time', 3)->comment('when it happened, UTC');
            $table->dateTime('received', 3);
            $table->integer('clock_shift')->default(0)->comment('seconds added to the visitor\'s clock');
            $table->string('name', 64)->charset('ascii')->collation('ascii_bin');
            $table->string('url', 2000);
            $table->char('page', 16)->charset('ascii')->collation('ascii_bin')->comment('xxh3 of the url, to group and join by');
            $table->string('referrer', 2000)->nullable();
            $table->string('agent', 512);
            $table->json('props');
            $table->string('experiment', 60)->charset('ascii')->collation('ascii_bin')->nullable();
            $table->string('variant', 60)->charset('ascii')->collation('ascii_bin')->nullable();

            $table->unique(['site_id', 'event_id']);
            $table->index(['site_id', 'name', 'page', 'visitor', 'time'], 'events_pages');
            $table->index(['site_id', 'experiment', 'name', 'visitor', 'variant', 'time'], 'events_experiments');
            $table->index(['site_id', 'time'], 'events_times');
        });
        Schema::create('rejected_events', function (Blueprint $table): void {
            $table->id();
            $table->unsignedBigInteger('site_id')->nullable()->comment('null where the site key is unknown');
            $table->dateTime('received', 3);
            $table->string('reason', 64)->charset('ascii')->collation('ascii_bin');
            $table->string('message', 500);
            $table->text('sample')->comment('the beginning of what was sent');
            $table->index(['site_id', 'received']);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('rejected_events');
        Schema::dropIfExists('events');
    }
};
