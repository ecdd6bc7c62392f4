<?php

namespace App\Storage;

use App\Models\Site;
use App\ReadModel\ModelLock;
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
        foreach (['events' => 'event_id', 'visitors' => 'visitor', 'goal_hits' => 'event_id', 'participations' => 'count_id', 'arrivals' => 'id', 'rejected_events' => 'id'] as $table => $order) {
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
        foreach (['arrivals', 'participations', 'goal_hits', 'visitors', 'events', 'rejected_events'] as $table) {
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
        }

        return array_filter($gone);
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
