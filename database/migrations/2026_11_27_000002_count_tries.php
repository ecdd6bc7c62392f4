<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** How often work on an address of a scan was begun: more than once means that a worker ended over it. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::table('scan_items', function (Blueprint $table): void {
            $table->unsignedTinyInteger('begun')->default(0);
        });
    }

    public function down(): void
    {
        Schema::table('scan_items', fn (Blueprint $table) => $table->dropColumn('begun'));
    }
};
