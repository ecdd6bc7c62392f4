<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Links to the Loupe, and what its previews sent, apart from everything that is counted. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::create('loupe_links', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('experiment_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('purpose', 8)->comment('look, preview, change');
            $table->string('variant', 60)->charset('ascii')->collation('ascii_bin')->nullable()->comment('the only one that it shows; null for all');
            $table->string('url', 2000)->comment('the page that it leads to first');
            $table->string('recipient', 120);
            $table->text('token')->comment('encrypted');
            $table->char('token_hash', 64)->charset('ascii')->collation('ascii_bin')->unique();
            $table->unsignedBigInteger('author_id');
            $table->string('author', 120);
            $table->dateTime('created_at', 3);
            $table->dateTime('expires_at', 3);
            $table->dateTime('revoked_at', 3)->nullable();
            $table->dateTime('used_at', 3)->nullable();
            $table->unsignedInteger('pages')->default(0)->comment('page views with it');
            $table->index(['site_id', 'experiment_id', 'id']);
        });
        DB::statement('create table preview_events like rehearsal_events');
        DB::statement('alter table preview_events change rehearsal_id loupe_link_id bigint unsigned not null, comment "what previews sent: never counted"');
    }

    public function down(): void
    {
        Schema::dropIfExists('preview_events');
        Schema::dropIfExists('loupe_links');
    }
};
