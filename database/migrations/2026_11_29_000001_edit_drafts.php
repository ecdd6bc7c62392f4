<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Drafts are kept while they are written, also where they are not finished; pages are kept as they were inspected. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::table('experiments', function (Blueprint $table): void {
            $table->json('hypothesis_parts')->nullable();
            $table->string('owner', 120)->default('');
            $table->mediumText('notes')->nullable();
            $table->json('labels')->nullable();
            $table->unsignedSmallInteger('planned_days')->nullable();
            $table->string('changed_by', 120)->nullable();
        });
        Schema::create('unfinished_drafts', function (Blueprint $table): void {
            $table->foreignId('experiment_id')->primary()->constrained()->cascadeOnDelete();
            $table->mediumText('written')->comment('JSON: a draft as it was written, while it cannot be read as a whole');
        });
        Schema::table('sites', function (Blueprint $table): void {
            $table->string('naming', 120)->nullable()->comment('pattern of the names of experiments');
        });
        Schema::table('trials', function (Blueprint $table): void {
            $table->string('kind', 10)->default('goal')->comment('goal, reach');
        });
        Schema::table('participations', function (Blueprint $table): void {
            $table->unsignedInteger('reverted')->default(0)->comment('reports that the page took changes back');
            $table->unsignedInteger('failed')->default(0)->comment('reports of errors');
        });
        Schema::create('page_copies', function (Blueprint $table): void {
            $table->foreignId('page_id')->primary()->constrained()->cascadeOnDelete();
            $table->unsignedBigInteger('site_id');
            $table->dateTime('at', 3);
            $table->string('url', 2000)->comment('where it was in the end');
            $table->unsignedInteger('bytes')->comment('of the text, unpacked');
            $table->binary('html')->comment('gzip');
            $table->json('sheets')->comment('hashes of the style sheets that it links to');
            $table->index(['site_id', 'at']);
        });
        Schema::create('page_sheets', function (Blueprint $table): void {
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->char('hash', 40)->charset('ascii')->collation('ascii_bin')->comment('SHA-1 of the address');
            $table->string('url', 2000);
            $table->dateTime('at', 3);
            $table->binary('css')->comment('gzip');
            $table->primary(['site_id', 'hash']);
        });
        foreach (['page_copies' => 'html', 'page_sheets' => 'css'] as $table => $column) {
            DB::statement("alter table {$table} modify {$column} mediumblob not null");
        }
    }
};
