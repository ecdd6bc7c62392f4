<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What is measured of each machine, for whoever watches it. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('measurements', function (Blueprint $table): void {
            $table->string('node', 64)->charset('ascii')->collation('ascii_bin')->comment('empty for what is of all machines');
            $table->string('name', 64)->charset('ascii')->collation('ascii_bin');
            $table->string('labels', 200)->charset('ascii')->collation('ascii_bin')->comment('JSON');
            $table->double('value');
            $table->primary(['node', 'name', 'labels']);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('measurements');
    }
};
