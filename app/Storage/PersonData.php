<?php

namespace App\Storage;

use App\Models\Audit;
use App\Models\Exclusion;
use App\Models\Site;
use App\ReadModel\ModelLock;
use Carbon\CarbonImmutable;
use Generator;
use Illuminate\Database\Query\Builder;
use Illuminate\Support\Facades\DB;

/**
 * Everything that a site keeps of one visitor, or of one user and the visitors that were seen as that user: to be given to
 * them, or erased, in what arrived and in what was made of it. Sums stay: nobody can be told from them.
 */
final readonly class PersonData
{
    private const AT_ONCE = 1000;

    /**
     * @param list<string> $visitors
     * @param list<string> $users
     */
    private function __construct(private Site $site, private array $visitors, private array $users)
    {
    }

    public static function ofVisitor(Site $site, string $visitor): self
    {
        return new self($site, [$visitor], []);
    }

    public static function ofUser(Site $site, string $user): self
    {
        return new self($site, DB::table('events')->where('site_id', $site->id)->where('user', $user)->distinct()->limit(self::AT_ONCE)->pluck('visitor')->map(strval(...))->all(), [$user]);
    }

    /** @return Generator<int, array<string, mixed>> one record after the other, each with the `table` that it is in */
    public function records(): Generator
    {
        foreach (['events' => 'event_id', 'visitors' => 'visitor', 'goal_hits' => 'event_id', 'participations' => 'count_id', 'arrivals' => 'id', 'rejected_events' => 'id', 'preview_events' => 'id', 'own_events' => 'id'] as $table => $order) {
            foreach ($this->in($table)->orderBy($order)->lazy(self::AT_ONCE) as $row) {
                yield ['table' => $table, ...array_map(static fn (mixed $value): mixed => is_string($value) && ! mb_check_encoding($value, 'UTF-8') ? base64_encode($value) : $value, (array) $row)];
            }
        }
    }

    /** @return array<string, int> table => rows that are gone */
    public function erase(): array
    {
        $gone = [];
        // What is not counted yet goes first, and under the lock of whoever counts: nothing is made of it any more.
        foreach (['arrivals', 'participations', 'goal_hits', 'visitors', 'events', 'rejected_events', 'preview_events', 'own_events'] as $table) {
            $gone[$table] = 0;
            do {
                $some = DB::transaction(function () use ($table): int {
                    ModelLock::take($this->site->id);

                    return $this->in($table)->limit(self::AT_ONCE)->delete();
                }, 3);
                $gone[$table] += $some;
            } while ($some === self::AT_ONCE);
        }
        // The ledger keeps the ids for as long as events may come again, and forgets whose they were.
        foreach (array_chunk($this->visitors, self::AT_ONCE) as $some) {
            DB::table('event_ids')->where('site_id', $this->site->id)->whereIn('visitor', $some)->update(['visitor' => 'erased']);
        }
        foreach ([...$this->visitors, ...$this->users] as $name) {
            DB::table('trials')->where('site_id', $this->site->id)->where('result', 'like', self::containing($name))->delete();
            DB::table('audit_rows')->whereIn('audit_id', DB::table('audits')->where('site_id', $this->site->id)->select('id'))->where('found', 'like', self::containing($name))->delete();
        }

        $this->forgetExcluded();
        // What audits have counted of a person cannot be told from the rest: it is counted anew. An audit that is under way keeps nothing then.
        DB::table('sites')->where('id', $this->site->id)->update(['erased_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]);
        DB::table('audit_checkpoints')->where('site_id', $this->site->id)->delete();

        return array_filter($gone);
    }

    /** An exclusion that names the person names nobody instead, and so do the audits that went by it. */
    private function forgetExcluded(): void
    {
        $names = [...$this->visitors, ...$this->users];
        $without = static fn (array $rule): array => isset($rule['visitors']) ? [...$rule, 'visitors' => array_values(array_unique(array_map(static fn (mixed $one): mixed => in_array($one, $names, true) ? 'erased' : $one, (array) $rule['visitors'])))] : $rule;
        foreach ($names as $name) {
            foreach (Exclusion::query()->where('site_id', $this->site->id)->where('definition', 'like', self::containing($name))->get() as $exclusion) {
                $exclusion->update(['definition' => $without($exclusion->definition)]);
            }
            foreach (Audit::query()->where('site_id', $this->site->id)->where('settings', 'like', self::containing($name))->lazyById(100) as $audit) {
                $settings = $audit->settings;
                $settings['audit']['exclusions'] = array_map($without, $settings['audit']['exclusions'] ?? []);
                $audit->update(['settings' => $settings]);
            }
        }
    }

    private function in(string $table): Builder
    {
        $own = DB::table($table)->where('site_id', $this->site->id);

        return match ($table) {
            'participations' => $own->whereIn('unit', [...$this->visitors, ...$this->users]),
            'arrivals', 'visitors' => $own->whereIn('visitor', $this->visitors),
            'rejected_events' => $own->where(function (Builder $any): void {
                foreach ([...$this->visitors, ...$this->users] as $name) {
                    $any->orWhere('sample', 'like', self::containing($name));
                }
                $any->orWhereRaw('0 = 1');
            }),
            default => $own->where(fn (Builder $any): Builder => $any->whereIn('visitor', $this->visitors)->orWhereIn('user', $this->users)),
        };
    }

    /** What finds a text that JSON has in double quotes. */
    private static function containing(string $name): string
    {
        return '%'.addcslashes((string) json_encode($name, JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE), '%_\\').'%';
    }
}
