<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Sites that are deleted with everything: they are gone for everybody at once, and their rows bit by bit. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::table('sites', fn (Blueprint $table) => $table->dateTime('deleting_at', 3)->nullable()->comment('since when nobody sees it any more'));
    }

    public function down(): void
    {
        Schema::table('sites', fn (Blueprint $table) => $table->dropColumn('deleting_at'));
    }
};
