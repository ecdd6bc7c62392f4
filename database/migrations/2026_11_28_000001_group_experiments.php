<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Groups of experiments that must not share visitors, and where in the group the stretch of each begins. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::table('experiments', function (Blueprint $table): void {
            $table->string('group_key', 60)->charset('ascii')->collation('ascii_bin')->nullable();
            $table->double('group_from')->nullable();
        });
    }
};
