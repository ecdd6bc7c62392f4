<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** What experiments say: how they are to be decided, what each unit comes to, sums of that, who lifted a cover and why, and decisions. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::table('experiments', function (Blueprint $table): void {
            $table->json('decision')->nullable()->comment('how it is to be decided, said before it starts');
        });
        Schema::table('participations', function (Blueprint $table): void {
            $table->mediumText('totals')->nullable()->comment('what the unit comes to in the readout, a JSON list; null of one that does not count');
        });
        Schema::create('readout_sums', function (Blueprint $table): void {
            $table->unsignedBigInteger('count_id');
            $table->string('item', 40)->charset('ascii')->collation('ascii_bin')->comment('g and the count of a goal, or what is measured of visits; empty for units');
            $table->unsignedTinyInteger('variant')->comment('place among the variants');
            $table->unsignedSmallInteger('epoch');
            $table->char('kind', 1)->charset('ascii')->collation('ascii_bin')->comment('d day, s segment, h size');
            $table->string('part', 110)->collation('utf8mb4_nopad_bin');
            for ($i = 0; $i < 10; $i++) {
                $table->double("n{$i}")->default(0);
            }
            $table->primary(['count_id', 'item', 'variant', 'epoch', 'kind', 'part']);
        });
        Schema::create('readout_segments', function (Blueprint $table): void {
            $table->unsignedBigInteger('count_id');
            $table->string('segment', 110)->collation('utf8mb4_nopad_bin');
            $table->primary(['count_id', 'segment']);
        });
        Schema::create('readout_lifts', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('experiment_id')->constrained()->cascadeOnDelete();
            $table->string('reason', 500);
            $table->string('by', 120);
            $table->dateTime('at', 3);
            $table->dateTime('put_back_at', 3)->nullable();
            $table->string('put_back_by', 120)->nullable();
        });
        Schema::create('decisions', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->foreignId('experiment_id')->constrained()->cascadeOnDelete();
            $table->string('state', 10)->comment('proposed, made, dropped');
            $table->string('choice', 60)->charset('ascii')->comment('key of the variant that is kept');
            $table->text('because')->comment('why, in words');
            $table->text('learned')->nullable()->comment('what was learned, in the words of whoever decided');
            $table->string('by', 120);
            $table->dateTime('at', 3);
            $table->mediumText('known')->comment('JSON: what the readout said then');
            $table->index(['site_id', 'at']);
        });
        // What is counted of an experiment is more than it was.
        DB::table('sites')->increment('definitions');
    }

    public function down(): void
    {
        foreach (['decisions', 'readout_lifts', 'readout_segments', 'readout_sums'] as $table) {
            Schema::dropIfExists($table);
        }
        Schema::table('participations', static fn (Blueprint $table) => $table->dropColumn('totals'));
        Schema::table('experiments', static fn (Blueprint $table) => $table->dropColumn('decision'));
    }
};
