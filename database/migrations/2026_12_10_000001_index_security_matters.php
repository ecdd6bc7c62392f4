<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Refusals are few among many sign-ins: they are found without reading those. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::table('security_events', fn (Blueprint $table) => $table->index(['matter', 'id']));
    }

    public function down(): void
    {
        Schema::table('security_events', fn (Blueprint $table) => $table->dropIndex(['matter', 'id']));
    }
};
