<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Models\Experiment as Kept;
use App\Models\Site;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\InvalidInput;

/**
 * An experiment as a person writes it: the experiment file without what Pellix adds (version, salt, and keys where they
 * are left out). What is right and wrong is the core's to say.
 */
final readonly class WrittenExperiment
{
    /**
     * @param array<string, mixed> $given in the shape that the request rules hold it to
     * @param bool                 $mayPublish whether the person may write code that visitors' browsers run
     *
     * @throws ValidationException with the message at the field
     */
    public static function read(Site $site, ?Kept $kept, array $given, bool $mayPublish): Experiment
    {
        self::refuseOthers($given, $kept);
        $json = [
            ...$given,
            'pellix' => 1,
            'plan' => self::plan($given['plan'] ?? null, $kept),
            'decision' => self::decision($given['decision'] ?? null, $kept),
            'hypothesis' => is_string($given['hypothesis'] ?? null) ? $given['hypothesis'] : '',
            'owner' => is_string($given['owner'] ?? null) ? $given['owner'] : '',
            'notes' => is_string($given['notes'] ?? null) ? $given['notes'] : '',
            'key' => $kept !== null ? $kept->key : (($given['key'] ?? null) ?: self::freeKey($site, (string) $given['name'])),
            'salt' => $kept !== null ? $kept->salt : ($given['salt'] ?? Str::lower(Str::random(20))),
            'goals' => array_map(static fn (array $goal, int $i): array => self::goal($site, $goal, $i), $given['goals'], array_keys($given['goals'])),
        ];
        try {
            $experiment = Experiment::read($json, true);
            $experiment->checkTargets($site->hosts);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([$e->field === '' ? 'experiment' : $e->field => $e->getMessage()]);
        }
        if (! $mayPublish) {
            self::refuseCode($experiment, $kept);
        }

        return $experiment;
    }

    /**
     * An experiment as somebody would write it now: as it was written last, where that is not whole yet.
     *
     * @return array<string, mixed>
     */
    public static function of(Kept $experiment): array
    {
        $written = $experiment->unfinished?->written;
        if ($written !== null) {
            return $written;
        }
        $declared = array_diff_key($experiment->declaration(), ['pellix' => 0, 'key' => 0, 'salt' => 0, 'plan' => 0, 'decision' => 0]);

        return [...$declared, 'goals' => array_map(static fn (array $goal): array => ['key' => $goal['key'], 'role' => $goal['role'] ?? 'secondary'], $declared['goals'])];
    }

    /** A plan that was started with stays. */
    private static function plan(mixed $given, ?Kept $kept): mixed
    {
        if ($kept?->started_at !== null && $given !== null && $given != $kept->plan) {
            throw ValidationException::withMessages(['plan' => 'It has started with its plan, and the plan stays: what is wanted later is no plan for what was seen already.']);
        }

        return $given ?? $kept?->plan;
    }

    /** So does the rule by which it is to be decided. */
    private static function decision(mixed $given, ?Kept $kept): mixed
    {
        if ($kept?->started_at !== null && $given !== null && $given != $kept->decision) {
            throw ValidationException::withMessages(['decision' => 'It has started with its rule, and the rule stays: what is chosen later is chosen by what was seen already.']);
        }

        return $given ?? $kept?->decision;
    }

    /**
     * @param array<string, mixed> $given
     *
     * @throws ValidationException
     */
    private static function refuseOthers(array $given, ?Kept $kept): void
    {
        foreach ($kept === null ? [] : ['key', 'salt'] as $member) {
            if (isset($given[$member]) && $given[$member] !== $kept->{$member}) {
                throw ValidationException::withMessages([$member => "The {$member} of an experiment stays what it is: {$kept->{$member}}."]);
            }
        }
    }

    /**
     * @param array<string, mixed> $goal
     *
     * @return array<string, mixed> the goal's whole definition
     */
    private static function goal(Site $site, array $goal, int $i): array
    {
        if (($goal['name'] ?? null) !== null) {
            return [...$goal, 'key' => $goal['key'] ?? self::slug((string) $goal['name'], 'goal')];
        }
        $kept = $site->goals()->where('key', $goal['key'])->first();
        if ($kept === null) {
            throw ValidationException::withMessages(["goals.{$i}.key" => "This site has no goal \"{$goal['key']}\"."]);
        }

        return [...$kept->definition, 'role' => $goal['role'] ?? 'primary'];
    }

    /** Code that somebody else has written, who may, can stay. */
    private static function refuseCode(Experiment $experiment, ?Kept $kept): void
    {
        $known = [];
        foreach ($kept->variants ?? [] as $variant) {
            array_push($known, ...array_values($variant['changes'] ?? []));
        }
        foreach ($experiment->variants as $i => $variant) {
            foreach ($variant->changes as $j => $change) {
                if ($change->kind->isCode() && ! in_array($change->toArray(), $known)) {
                    throw ValidationException::withMessages(["variants.{$i}.changes.{$j}.kind" => 'HTML and scripts run in every visitor\'s browser. This needs the right to publish on the site; ask whoever owns it.']);
                }
            }
        }
    }

    /** A key made of a name that no experiment of the site has, nor a deleted draft that can be had back. */
    public static function freeKey(Site $site, string $name): string
    {
        $key = self::slug($name, 'experiment');
        $taken = $site->experiments()->withTrashed()->where('key', 'like', "{$key}%")->pluck('key')->all();
        for ($i = 2, $free = $key; in_array($free, $taken, true); $i++) {
            $free = Str::limit($key, 60 - strlen("-{$i}"), '')."-{$i}";
        }

        return $free;
    }

    private static function slug(string $name, string $fallback): string
    {
        return Str::limit(Str::slug($name), 60, '') ?: $fallback.'-'.Str::lower(Str::random(6));
    }
}
