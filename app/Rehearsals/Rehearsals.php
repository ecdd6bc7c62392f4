<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Models\Experiment;
use App\Models\Rehearsal;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\InvalidInput;
use Pellix\Core\Rehearsal\Screen;

/** Asks for rehearsals, cancels them, and forgets old ones. */
final readonly class Rehearsals
{
    /** So many of an experiment are kept, with their pictures. */
    private const KEPT = 10;

    public function __construct(private Scripts $scripts)
    {
    }

    /**
     * @param list<string> $variants keys; none for all
     * @param list<string> $screens  none for all
     *
     * @throws ValidationException
     */
    public function ask(Experiment $experiment, User|string $by, array $variants = [], array $screens = [], string $why = 'asked'): Rehearsal
    {
        try {
            $declared = $experiment->declaredAnew();
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages(['experiment' => "It cannot be rehearsed yet: {$e->getMessage()} ({$e->field})"]);
        }
        $keys = array_map(static fn (DeclaredVariant $one): string => $one->variant->key, $declared->variants);
        foreach (array_diff($variants, $keys) as $unknown) {
            throw ValidationException::withMessages(['variants' => "There is no variant {$unknown}; there are ".implode(', ', $keys).'.']);
        }
        $waiting = $experiment->rehearsals()->whereIn('state', ['waiting', 'running'])->first();
        if ($waiting !== null) {
            throw ValidationException::withMessages(['experiment' => 'A rehearsal of this experiment is under way already; wait for it, or cancel it.']);
        }
        $chosen = $variants === [] ? $keys : [...array_diff([self::control($declared->variants)], $variants), ...$variants];
        $script = $this->scripts->of($experiment, $declared);

        return DB::transaction(function () use ($experiment, $declared, $by, $keys, $chosen, $screens, $script, $why): Rehearsal {
            $rehearsal = Rehearsal::query()->create([
                'site_id' => $experiment->site_id, 'experiment_id' => $experiment->id, 'kind' => 'experiment', 'state' => 'waiting', 'why' => $why,
                'by' => $by instanceof User ? $by->name : $by, 'author_id' => $by instanceof User ? $by->id : null, 'revision' => $experiment->revision, 'configuration' => $experiment->site->published_number,
                'variants' => array_values(array_filter($keys, static fn (string $key): bool => in_array($key, $chosen, true))),
                'screens' => $screens === [] ? array_column(Screen::cases(), 'value') : $screens, 'script' => $script->toArray(), 'about' => About::of($experiment), 'asked_at' => CarbonImmutable::now('UTC'),
            ]);
            $this->addParts($rehearsal, $declared->variants);
            $this->forget($experiment->rehearsals());

            return $rehearsal->refresh();
        });
    }

    /**
     * Asks for a rehearsal of a whole site's installation, on which nothing is tested: its main pages with the snippet and without it.
     *
     * @throws ValidationException
     */
    public function askInstallation(Site $site, User|string $by): Rehearsal
    {
        if ($site->rehearsals()->where('kind', 'installation')->whereIn('state', ['waiting', 'running'])->exists()) {
            throw ValidationException::withMessages(['site' => 'A rehearsal of this site is under way already; wait for it, or cancel it.']);
        }
        $pages = MainPages::of($site);
        if ($pages === []) {
            throw ValidationException::withMessages(['site' => 'No page of this site is known yet. Find its pages under Coverage first.']);
        }

        return DB::transaction(function () use ($site, $by, $pages): Rehearsal {
            $rehearsal = Rehearsal::query()->create([
                'site_id' => $site->id, 'experiment_id' => null, 'kind' => 'installation', 'state' => 'waiting', 'why' => 'asked', 'by' => $by instanceof User ? $by->name : $by, 'author_id' => $by instanceof User ? $by->id : null,
                'configuration' => $site->published_number, 'variants' => [], 'screens' => [Screen::Desktop->value], 'total' => count($pages), 'asked_at' => CarbonImmutable::now('UTC'),
                'script' => ['pellix' => 1, 'steps' => array_map(static fn (string $page): array => ['do' => 'open', 'path' => $page], $pages)],
            ]);
            foreach ($pages as $place => $page) {
                $rehearsal->parts()->create(['place' => $place, 'kind' => PartKind::Installation->value, 'words' => mb_substr($page, 0, 200)]);
            }
            $this->forget($site->rehearsals()->where('kind', 'installation'));

            return $rehearsal->refresh();
        });
    }

    public function cancel(Rehearsal $rehearsal): void
    {
        $now = CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v');
        // One that runs notices by itself, and ends its browser first.
        Rehearsal::query()->whereKey($rehearsal->id)->whereIn('state', ['waiting', 'running'])->update(['state' => 'cancelled', 'ended_at' => $now, 'doing' => '']);
    }

    /** @return object{media: string, content: string}|null what was kept under a name */
    public function file(Rehearsal $rehearsal, string $name): ?object
    {
        return DB::table('rehearsal_files')->where('rehearsal_id', $rehearsal->id)->where('name', $name)->first(['media', 'content']);
    }

    /** @param list<DeclaredVariant> $variants */
    private function addParts(Rehearsal $rehearsal, array $variants): void
    {
        $place = 0;
        $own = array_filter($variants, static fn (DeclaredVariant $one): bool => in_array($one->variant->key, $rehearsal->variants, true));
        // What the control looks like is known before the others are looked at.
        usort($own, static fn (DeclaredVariant $a, DeclaredVariant $b): int => $b->variant->isControl <=> $a->variant->isControl);
        foreach (PartKind::ofExperiments() as $kind) {
            foreach ($kind->isOfVariant() ? $own : [null] as $variant) {
                if ($kind->isFor($variant)) {
                    $rehearsal->parts()->create(['place' => $place++, 'kind' => $kind->value, 'variant' => $variant?->variant->key, 'words' => $kind->words($variant)]);
                }
            }
        }
        $rehearsal->update(['total' => $place]);
    }

    /** @param HasMany<Rehearsal, covariant \Illuminate\Database\Eloquent\Model> $all of which the newest are kept */
    private function forget(HasMany $all): void
    {
        $old = $all->orderByDesc('id')->offset(self::KEPT)->limit(100)->pluck('id');
        if ($old->isNotEmpty()) {
            DB::table('rehearsal_events')->whereIn('rehearsal_id', $old)->delete();
            Rehearsal::query()->whereIn('id', $old)->delete();
        }
    }

    /** @param list<DeclaredVariant> $variants */
    private static function control(array $variants): string
    {
        foreach ($variants as $variant) {
            if ($variant->variant->isControl) {
                return $variant->variant->key;
            }
        }

        return $variants[0]->variant->key;
    }
}
