<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** The rows behind numbers of audits, once somebody has asked for them. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('audit_rows', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('audit_id')->constrained()->cascadeOnDelete();
            $table->char('mark', 64)->charset('ascii')->collation('ascii_bin')->comment('hash of what is asked');
            $table->text('sought')->comment('JSON');
            $table->string('state', 10)->charset('ascii')->comment('waiting, running, done, failed');
            $table->string('failure', 500)->nullable();
            $table->longText('found')->nullable()->comment('JSON');
            $table->string('worker', 80)->nullable();
            $table->dateTime('lease', 3)->nullable();
            $table->unsignedTinyInteger('tries')->default(0);
            $table->dateTime('asked_at', 3);
            $table->dateTime('ended_at', 3)->nullable();
            $table->unique(['audit_id', 'mark']);
            $table->index(['state', 'id']);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('audit_rows');
    }
};
