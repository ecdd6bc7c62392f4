<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Links to an audit's report for somebody without an account. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('audit_shares', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('audit_id')->constrained()->cascadeOnDelete();
            $table->string('recipient', 120);
            $table->text('token')->comment('encrypted');
            $table->char('token_hash', 64)->charset('ascii')->collation('ascii_bin')->unique();
            $table->string('author', 120);
            $table->dateTime('created_at', 3);
            $table->dateTime('expires_at', 3);
            $table->dateTime('revoked_at', 3)->nullable();
            $table->dateTime('read_at', 3)->nullable();
            $table->index(['audit_id', 'id']);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('audit_shares');
    }
};
