<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Counts of what is not kept: rejected events beyond the samples, events that browsers lost, beacons for sites that nobody has. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('unkept_events', function (Blueprint $table): void {
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->dateTime('hour');
            $table->string('reason', 40)->charset('ascii')->collation('ascii_bin');
            $table->unsignedBigInteger('n');
            $table->dateTime('last', 3);
            $table->primary(['site_id', 'hour', 'reason']);
        });
        Schema::create('strangers', function (Blueprint $table): void {
            $table->date('day');
            $table->string('key', 20)->charset('ascii')->collation('ascii_bin')->comment('site key that nobody has; empty beyond the first of a day');
            $table->unsignedBigInteger('beacons');
            $table->dateTime('last', 3);
            $table->primary(['day', 'key']);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('strangers');
        Schema::dropIfExists('unkept_events');
    }
};
