<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Who is told of troubles, and how; what was told, and the mails that a copy without a mail server keeps. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('notice_settings', function (Blueprint $table): void {
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('wish', 12)->charset('ascii');
            $table->boolean('digest');
            $table->char('quiet_from', 5)->charset('ascii')->nullable();
            $table->char('quiet_to', 5)->charset('ascii')->nullable();
            $table->primary(['user_id', 'site_id']);
        });
        Schema::create('webhooks', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('name', 120);
            $table->string('url', 500);
            $table->text('secret')->comment('encrypted');
            $table->string('wish', 12)->charset('ascii');
            $table->boolean('digest');
            $table->boolean('active');
            $table->string('author', 120);
            $table->dateTime('created_at', 3);
        });
        Schema::create('deliveries', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('mark', 100)->charset('ascii')->collation('ascii_bin')->unique()->comment('what is told to whom: never twice');
            $table->string('kind', 8)->charset('ascii')->comment('trouble, digest, test');
            $table->foreignId('notice_id')->nullable()->constrained()->cascadeOnDelete();
            $table->foreignId('user_id')->nullable()->constrained()->cascadeOnDelete();
            $table->foreignId('webhook_id')->nullable()->constrained()->cascadeOnDelete();
            $table->mediumText('content')->nullable()->comment('JSON: of a digest, which tells of a moment');
            $table->string('state', 8)->charset('ascii');
            $table->unsignedTinyInteger('tries')->default(0);
            $table->unsignedSmallInteger('status')->nullable()->comment('of HTTP, at the last try');
            $table->string('said', 300)->nullable()->comment('what went wrong at the last try, or how it was taken');
            $table->dateTime('at', 3);
            $table->dateTime('next_at', 3)->nullable();
            $table->dateTime('claimed_until', 3)->nullable();
            $table->dateTime('tried_at', 3)->nullable();
            $table->index(['state', 'next_at']);
            $table->index(['site_id', 'id']);
        });
        Schema::create('digests', function (Blueprint $table): void {
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('week', 8)->charset('ascii');
            $table->dateTime('at', 3);
            $table->primary(['site_id', 'week']);
        });
        Schema::create('mails', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->string('recipient', 255);
            $table->string('subject', 300);
            $table->mediumText('text');
            $table->mediumText('html');
            $table->dateTime('at', 3);
            $table->index(['site_id', 'recipient', 'id']);
        });
    }

    public function down(): void
    {
        foreach (['mails', 'digests', 'deliveries', 'webhooks', 'notice_settings'] as $table) {
            Schema::dropIfExists($table);
        }
    }
};
