<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What the watch over the split has counted of each running experiment, so that it reads what is new alone. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('glances', function (Blueprint $table): void {
            $table->foreignId('experiment_id')->primary()->constrained()->cascadeOnDelete();
            $table->unsignedBigInteger('count_id')->comment('of the counting that it read');
            $table->mediumText('days')->comment('JSON: day => epoch => place of the variant => visitors first exposed, of days that are closed');
            $table->dateTime('closed_until', 3)->nullable()->comment('what is later is read again');
            $table->dateTime('at', 3);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('glances');
    }
};
