<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Inventory\Inventory;
use App\Models\Site;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Rules\Op;
use Pellix\Core\Rules\Rule;

/** Addresses that an experiment is for: pages that are known, and otherwise what its page rule itself names. */
final readonly class EntryPages
{
    private const MOST = 50;

    public function __construct(private Inventory $inventory)
    {
    }

    /**
     * @param int $id of the experiment, whose pages a worker has found
     *
     * @return non-empty-list<string> whole addresses; the first is where a rehearsal begins
     */
    public function of(Site $site, int $id, Experiment $experiment): array
    {
        $found = DB::table('pages')->whereIn('id', DB::table('page_matches')->where('experiment_id', $id)->orderBy('page_id')->limit(self::MOST)->pluck('page_id'))->orderBy('id')->pluck('url')->all();
        // Since its rule was changed they may not be its pages any more.
        $known = array_values(array_filter($found, $experiment->pages->matches(...)));
        $home = rtrim($this->inventory->home($site), '/');
        foreach ([...$known === [] ? self::named($experiment->pages->rule) : [], '/'] as $path) {
            $url = preg_match('~\Ahttps?://~i', $path) === 1 ? $path : $home.$path;
            if ($known === [] && $experiment->pages->matches($url)) {
                $known[] = $url;
            }
        }

        return $known === [] ? ["{$home}/"] : $known;
    }

    /** @return list<string> paths and addresses that stand in a rule */
    private static function named(Rule $rule): array
    {
        $named = [];
        foreach ($rule->conditions() as $condition) {
            if (in_array($condition->fact, ['url.path', 'url.full'], true) && in_array($condition->op, [Op::Is, Op::Starts, Op::In], true)) {
                $named = [...$named, ...array_filter((array) $condition->value, is_string(...))];
            }
        }

        return array_values($named);
    }
}
