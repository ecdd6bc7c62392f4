<?php

namespace App\People;

use App\Experiments\ExperimentStore;
use App\Logbook\Logbook;
use App\Logbook\SecurityLog;
use App\Models\AccessToken;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Rights\Right;
use Pellix\Core\SignIn\SecurityMatter;
use Pellix\Core\Vocabulary\Thing;

/** Who may do what on a site. There is always somebody who owns it. */
final readonly class Members
{
    public function __construct(private Logbook $logbook, private SecurityLog $log, private ExperimentStore $experiments)
    {
    }

    /** @throws ValidationException where nobody would own the site */
    public function change(Site $site, User $person, Right $right): void
    {
        $this->within($site, $person, function (Right $before, bool $isClosed) use ($site, $person, $right): void {
            $isClosed && throw ValidationException::withMessages(['right' => "{$person->name} may not do anything here. Open their access first."]);
            if ($right === $before) {
                return;
            }
            $before === Right::Own && $this->keepOwner($site, $person, 'right');
            DB::table('site_user')->where('site_id', $site->id)->where('user_id', $person->id)->update(['right' => $right->value]);
            $this->note($site, $person, SecurityMatter::RightChanged, 'right changed', [['field' => 'right', 'before' => $before->value, 'after' => $right->value]]);
        });
    }

    /**
     * Closes a person's access, or lets them leave: their tokens for the site end, what they made stays, and what they own goes to somebody else.
     *
     * @throws ValidationException where nobody would own the site
     */
    public function close(Site $site, User $person, ?User $successor, bool $isOwnWish): void
    {
        $this->within($site, $person, function (Right $right, bool $isClosed) use ($site, $person, $successor, $isOwnWish): void {
            if ($isClosed) {
                return;
            }
            $right === Right::Own && $this->keepOwner($site, $person, 'person');
            DB::table('site_user')->where('site_id', $site->id)->where('user_id', $person->id)->update(['closed_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]);
            AccessToken::query()->where('tokenable_type', $person->getMorphClass())->where('tokenable_id', $person->id)->where('site_id', $site->id)->delete();
            $this->note($site, $person, $isOwnWish ? SecurityMatter::LeftSite : SecurityMatter::AccessClosed, $isOwnWish ? 'left' : 'access closed');
            $successor !== null && $this->handOver($site, $person, $successor);
        });
    }

    public function open(Site $site, User $person): void
    {
        $this->within($site, $person, function (Right $right, bool $isClosed) use ($site, $person): void {
            if ($isClosed) {
                DB::table('site_user')->where('site_id', $site->id)->where('user_id', $person->id)->update(['closed_at' => null]);
                $this->note($site, $person, SecurityMatter::AccessOpened, 'access opened', [['field' => 'right', 'before' => null, 'after' => $right->value]]);
            }
        });
    }

    /** @return int how many experiments went over */
    public function handOver(Site $site, User $from, User $to): int
    {
        $n = $this->experiments->handOver($site, $from, $to, null);
        if ($n > 0) {
            $this->log->note(SecurityMatter::HandedOver, $from, $site, "{$n} experiments to {$to->name}");
            $this->logbook->note($site->id, Thing::Person, (string) $from->id, $from->name, 'handed over', note: "{$n} experiments to {$to->name}");
        }

        return $n;
    }

    /** @param \Closure(Right, bool): void $do with the right, and whether the access is closed */
    private function within(Site $site, User $person, \Closure $do): void
    {
        DB::transaction(static function () use ($site, $person, $do): void {
            Site::hold($site->id);
            $kept = DB::table('site_user')->where('site_id', $site->id)->where('user_id', $person->id)->first();
            abort_if($kept === null, 404);
            $do(Right::from($kept->right), $kept->closed_at !== null);
        });
    }

    private function keepOwner(Site $site, User $but, string $field): void
    {
        $site->users()->wherePivot('right', Right::Own->value)->whereKeyNot($but->id)->exists()
            || throw ValidationException::withMessages([$field => 'Nobody else owns this site. Make somebody else an owner first.']);
    }

    /** @param list<array{field: string, before: mixed, after: mixed}> $changes */
    private function note(Site $site, User $person, SecurityMatter $matter, string $event, array $changes = []): void
    {
        $this->log->note($matter, $person, $site, implode('', array_map(static fn (array $one): string => ($one['before'] ?? '')." → {$one['after']}", $changes)));
        $this->logbook->note($site->id, Thing::Person, (string) $person->id, $person->name, $event, $changes);
    }
}
