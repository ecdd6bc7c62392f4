<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What somebody prepared, and asks somebody else to publish. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('publish_requests', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('method', 6);
            $table->string('path', 200)->comment('below the site');
            $table->mediumText('body')->comment('JSON, as it is sent');
            $table->string('title', 300);
            $table->json('changes')->comment('list of field, before, after');
            $table->char('base', 64)->charset('ascii')->comment('of what it changes, as it was then');
            $table->string('note', 500);
            $table->foreignId('author_id')->nullable()->constrained('users')->nullOnDelete();
            $table->string('author');
            $table->dateTime('at', 3);
            $table->string('state', 10)->default('open')->comment('open, done, refused, withdrawn');
            $table->foreignId('decider_id')->nullable()->constrained('users')->nullOnDelete();
            $table->string('decider')->default('');
            $table->dateTime('decided_at', 3)->nullable();
            $table->string('answer', 500)->default('');
            $table->index(['site_id', 'state', 'id']);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('publish_requests');
    }
};
