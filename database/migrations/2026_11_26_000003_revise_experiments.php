<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Everything that an experiment file can say, each state of an experiment as a revision, and published files by number. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::table('experiments', function (Blueprint $table): void {
            $table->string('kind', 16)->default('in_page');
            $table->string('unit', 8)->default('visitor');
            $table->json('audience')->nullable();
            $table->unsignedSmallInteger('lifetime_days')->nullable()->comment('how long a visitor keeps its variant');
            $table->unsignedInteger('revision')->default(0);
        });
        Schema::create('experiment_revisions', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('experiment_id')->constrained()->cascadeOnDelete();
            $table->unsignedInteger('number');
            $table->dateTime('from', 3);
            $table->string('stage', 16);
            $table->json('declared')->comment('the experiment file of that time, without epochs, start and end');
            $table->json('changed')->comment('names of what differs from the one before');
            $table->foreignId('author_id')->nullable()->constrained('users')->nullOnDelete();
            $table->string('author');
            $table->unique(['experiment_id', 'number']);
        });
        Schema::create('publications', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('site_id')->constrained()->cascadeOnDelete();
            $table->unsignedInteger('number');
            $table->longText('configuration')->comment('JSON');
            $table->dateTime('published_at', 3);
            $table->unique(['site_id', 'number']);
        });
        foreach (DB::table('experiments')->orderBy('id')->get() as $experiment) {
            $this->revise($experiment);
        }
        Schema::table('experiments', fn (Blueprint $table) => $table->dropColumn('stretches'));
    }

    /** When an experiment ran tells which states it was in; what it declared then is what it declares now: it could not be changed. */
    private function revise(object $experiment): void
    {
        $declared = array_filter([
            'pellix' => 1, 'key' => $experiment->key, 'name' => $experiment->name, 'hypothesis' => $experiment->hypothesis, 'kind' => 'in_page', 'unit' => 'visitor', 'salt' => $experiment->salt,
            'share' => $experiment->share, 'variants' => json_decode($experiment->variants, true), 'pages' => json_decode($experiment->pages, true),
            'trigger' => $experiment->trigger === null ? null : json_decode($experiment->trigger, true),
            'goals' => DB::table('experiment_goal')->join('goals', 'goals.id', 'goal_id')->where('experiment_id', $experiment->id)->orderBy('position')->get(['definition', 'role'])
                ->map(static fn (object $goal): array => [...json_decode($goal->definition, true), 'role' => $goal->role])->all(),
        ], static fn (mixed $part): bool => $part !== null);
        $steps = [['draft', $experiment->created_at ?? $experiment->changed_at]];
        $ran = json_decode($experiment->stretches, true) ?: [];
        foreach ($ran as $i => [$from, $to]) {
            $steps[] = ['running', $from];
            $isLast = $i === count($ran) - 1;
            if ($to !== null) {
                $steps[] = [$isLast && in_array($experiment->state, ['ended', 'archived'], true) ? 'ended' : 'paused', $to];
            }
        }
        if ($experiment->state === 'archived') {
            $steps[] = ['archived', $experiment->changed_at];
        }
        foreach ($steps as $i => [$stage, $from]) {
            DB::table('experiment_revisions')->insert([
                'experiment_id' => $experiment->id, 'number' => $i + 1, 'from' => Carbon\CarbonImmutable::parse($from, 'UTC')->utc()->format('Y-m-d H:i:s.v'), 'stage' => $stage,
                'declared' => json_encode($declared), 'changed' => json_encode($i === 0 ? [] : ['state']), 'author' => 'Pellix',
            ]);
        }
        DB::table('experiments')->where('id', $experiment->id)->update(['revision' => count($steps)]);
    }

    public function down(): void
    {
        throw new RuntimeException('Revisions cannot be put back into one state; restore the backup that was made before.');
    }
};
