<?php

declare(strict_types=1);

namespace App\Loupe;

use App\Approvals\Approvals;
use App\Measures\GoalKey;
use App\Measures\GoalStore;
use App\Models\Goal as Kept;
use App\Models\LoupeLink;
use App\Models\Site;
use App\Publishing\Publisher;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Formats\Same;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Happenings\Kind;
use Pellix\Core\InvalidInput;

/** Makes a goal of an element that somebody has pointed at, and gives it to the experiment that they change. */
final readonly class GoalMark
{
    public const KINDS = [Kind::Click->value, Kind::Form->value, Kind::Seen->value];

    public function __construct(private GoalStore $goals, private Drafting $drafting, private Publisher $publisher)
    {
    }

    /**
     * @param array<mixed> $asked `kind`, `selector`, `name`; `href` in the place of a selector, for clicks that only the address they lead to tells apart; `path` where it is to count on one page alone
     *
     * @return array{key: string, name: string, watched: bool} the goal, and whether browsers record what it counts already
     *
     * @throws ValidationException
     */
    public function make(LoupeLink $link, array $asked): array
    {
        $person = $link->person ?? throw new Refused('Whoever made this link is gone.');
        [$kind, $selector, $name, $path, $href] = array_map(static fn (string $member): string => is_string($asked[$member] ?? null) ? trim($asked[$member]) : '', ['kind', 'selector', 'name', 'path', 'href']);
        $name !== '' || throw ValidationException::withMessages(['name' => 'Give the goal a name.']);
        in_array($kind, self::KINDS, true) || throw ValidationException::withMessages(['kind' => 'An element can be clicked, sent as a form, or seen.']);
        try {
            $what = $kind === Kind::Click->value && $href !== ''
                ? ['kind' => Kind::Event->value, 'event' => Kind::Click->recordedAs(), 'when' => ['fact' => 'event.props.href', 'op' => 'is', 'value' => $href]]
                : ['kind' => $kind, 'selector' => $selector];
            $goal = Goal::read([...$what, 'key' => GoalKey::free($link->site, $name), 'name' => $name, 'count' => 'visitor', ...($path === '' ? [] : ['pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => $path]])], true);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([$e->field => $e->getMessage()]);
        }
        $this->drafting->mustBeDraft($link);
        $kept = self::alike($link->site, $goal) ?? $this->goals->create($link->site, $goal, $person);
        $this->drafting->attach($link, $kept->key);
        $mayAlone = Approvals::mayAlone($person, $link->site);
        if ($kind === Kind::Seen->value && $mayAlone) {
            $this->publisher->publish($link->site);
        }

        return ['key' => $kept->key, 'name' => $kept->name, 'watched' => $kind !== Kind::Seen->value || $mayAlone];
    }

    /** One that counts the same already. */
    private static function alike(Site $site, Goal $goal): ?Kept
    {
        $what = static fn (array $definition): array => array_diff_key($definition, ['key' => 0, 'name' => 0, 'role' => 0]);

        return $site->goals()->orderBy('id')->get()
            ->first(static fn (Kept $one): bool => Same::json($what($one->definition), $what($goal->toArray())));
    }
}
