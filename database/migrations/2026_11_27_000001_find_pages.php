<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** The addresses of many pages in one text, which is looked through faster than as many rows; put together by the workers. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('address_blocks', function (Blueprint $table): void {
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->unsignedBigInteger('block')->comment('id of a page without its last three digits');
            $table->string('stamp', 60)->comment('of the pages that it was made of: their number, the sum of their ids');
            $table->unsignedBigInteger('last_id');
            $table->mediumText('text')->charset('binary')->comment('lines: id, blank, beginning of the address in small letters');
            $table->primary(['site_id', 'block']);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('address_blocks');
    }
};
