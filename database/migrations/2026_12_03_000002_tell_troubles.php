<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Troubles that audits of running experiments found, each told once; and up to when each person has seen them. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('notices', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('experiment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('audit_id')->nullable()->constrained()->nullOnDelete();
            $table->string('identity', 300)->comment('of the finding that led it first');
            $table->string('code', 40)->charset('ascii');
            $table->string('severity', 8);
            $table->string('message', 1000);
            $table->text('areas')->comment('JSON: what it is about, from one audit to the next');
            $table->dateTime('at', 3);
            $table->dateTime('over_at', 3)->nullable();
            $table->index(['site_id', 'at']);
            $table->index(['experiment_id', 'over_at']);
        });
        Schema::create('notice_looks', function (Blueprint $table): void {
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->dateTime('at', 3);
            $table->primary(['user_id', 'site_id']);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('notice_looks');
        Schema::dropIfExists('notices');
    }
};
