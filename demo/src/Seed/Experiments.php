<?php

declare(strict_types=1);

namespace Demo\Seed;

/**
 * The demo's experiments: in every state, healthy and broken. All invented.
 *
 * Each is an experiment file with three additions: `state`, `days` (from how many days ago it ran, to how many days
 * ago), `before` (what its weights were, until how many days ago) and `fault`, if it has one: `lose` (a variant and the part of its visitors that get lost) or `deaf` (its changes
 * find no element). `effects` are what its variants do to visitors (see `Effects`).
 */
final class Experiments
{
    /** @return list<array<string, mixed>> */
    public static function all(): array
    {
        return [
            self::of('loan-steps', 'Say what the next step is', 'People stop at the first step because the button does not say what follows.', [
                'state' => 'running', 'days' => [17, 0], 'pages' => self::path('is', '/loan'), 'goals' => [self::goal('loan-noted', 'Loan noted', '/loan/done')],
                'owner' => 'Ines Calder', 'planned_days' => 21,
                'plan' => ['goal' => 'loan-noted', 'measure' => 'rate', 'baseline' => 0.46, 'lift' => 0.15, 'alpha' => 0.05, 'power' => 0.8, 'sides' => 2, 'comparisons' => 'holm', 'weights' => [50, 50], 'share' => 1, 'within' => [560, 1100, 1630, 2150], 'days' => 21],
                'variants' => [
                    self::variant('control', 'As it is', 50),
                    self::variant('short', 'Names the step', 50, [['kind' => 'text', 'selector' => '#next', 'value' => 'Choose a day']]),
                ],
            ]),
            self::of('catalogue-heading', 'A heading that invites', 'A heading that speaks to the reader makes more people open an instrument.', [
                'state' => 'running', 'days' => [15, 0], 'pages' => self::path('is', '/catalogue'), 'goals' => [self::goal('loan-noted', 'Loan noted', '/loan/done')],
                'fault' => ['lose' => ['plain', 0.2]],
                'variants' => [
                    self::variant('control', 'As it is', 40),
                    self::variant('plain', 'Plain words', 40, [['kind' => 'text', 'selector' => 'h1.heading', 'value' => 'Take one home']]),
                    self::variant('bold', 'Bold words', 20, [
                        ['kind' => 'text', 'selector' => 'h1.heading', 'value' => 'Which one will you play?'],
                        ['kind' => 'style', 'selector' => 'h1.heading', 'property' => 'color', 'value' => '#4c5c2d'],
                    ]),
                ],
            ]),
            self::of('join-button', 'A warmer join button', 'A button that names the benefit makes more people join.', [
                'state' => 'running', 'days' => [11, 0], 'pages' => self::path('is', '/join'), 'goals' => [self::goal('joined', 'Joined', '/join/done')],
                'fault' => ['deaf' => true],
                'variants' => [
                    self::variant('control', 'As it is', 50),
                    self::variant('benefit', 'Names the benefit', 50, [['kind' => 'text', 'selector' => '.join-now', 'value' => 'Join and borrow today']]),
                ],
            ]),
            self::of('donate-amounts', 'Larger amounts first', 'Seeing the largest amount first raises what people give.', [
                'state' => 'running', 'days' => [2, 0], 'pages' => self::path('is', '/donations'), 'goals' => [self::goal('gave', 'Gave', '/donate/thanks')],
                'variants' => [
                    self::variant('control', 'As it is', 50),
                    self::variant('large', 'Largest first', 50, [['kind' => 'text', 'selector' => '.lead', 'value' => 'Eighty buys a bow its hair for two years.']]),
                ],
            ]),
            self::of('home-welcome', 'A shorter welcome', 'A shorter first line sends more people to the shelves.', [
                'state' => 'ended', 'days' => [26, 6], 'share' => 0.5, 'pages' => self::path('is', '/'), 'goals' => [self::goal('joined', 'Joined', '/join/done')],
                'planned_days' => 20, 'decision' => ['by' => 'primary', 'worthwhile' => 0.02],
                'variants' => [
                    self::variant('control', 'As it is', 50),
                    self::variant('short', 'Five words', 50, [['kind' => 'text', 'selector' => '#welcome', 'value' => 'Borrow it. Play it. Return it.']]),
                ],
            ]),
            self::of('join-reason', 'A reason to join', 'Whoever reads what a membership is good for joins more often.', [
                'state' => 'ended', 'days' => [27, 13], 'owner' => 'Ines Calder', 'pages' => self::path('is', '/join'), 'goals' => [self::goal('joined', 'Joined', '/join/done')],
                'planned_days' => 14, 'decision' => ['by' => 'primary', 'worthwhile' => 0.05],
                'plan' => ['goal' => 'joined', 'measure' => 'rate', 'baseline' => 0.25, 'points' => 0.13, 'alpha' => 0.05, 'power' => 0.8, 'sides' => 2, 'comparisons' => 'holm', 'weights' => [50, 50], 'share' => 1, 'within' => [230, 460], 'days' => 14],
                'effects' => [['goes on', 'reason', 0.3, ['/join', ['/join/done']]], ['goes on', 'control', 0.3, ['/join', ['/workshops']]]],
                'variants' => [
                    self::variant('control', 'As it is', 50),
                    self::variant('reason', 'Names the reason', 50, [['kind' => 'text', 'selector' => '.lead', 'value' => 'Members borrow three instruments at once, and keep them for a season.']]),
                ],
            ]),
            self::of('gift-sizes', 'Larger gifts in sight', 'Whoever sees what a large gift does gives more, even if fewer give.', [
                'state' => 'ended', 'days' => [27, 5], 'owner' => 'Tomé Alder', 'pages' => self::path('is', '/donate'),
                'goals' => [['key' => 'gift', 'name' => 'Gift in euros', 'role' => 'primary', 'kind' => 'order', 'count' => 'every', 'currency' => 'EUR']],
                'planned_days' => 22, 'decision' => ['by' => 'primary'],
                'effects' => [['stops', 'large', 0.5, ['/donate/thanks']], ['gives', 'large', 1.0, [6]]],
                'variants' => [
                    self::variant('control', 'As it is', 50),
                    self::variant('large', 'Largest first', 50, [['kind' => 'text', 'selector' => 'h1', 'value' => 'Four hundred euros restore a cello']]),
                ],
            ]),
            self::of('loan-shortcut', 'Straight to the loan', 'Whoever is shown the loan first borrows more often.', [
                'state' => 'ended', 'days' => [27, 13], 'owner' => 'Ines Calder', 'pages' => self::path('starts', '/catalogue/'),
                'goals' => [self::goal('loan-noted', 'Loan noted', '/loan/done'), ['key' => 'read', 'name' => 'Read an instrument for half a minute', 'role' => 'guardrail', 'kind' => 'engaged', 'count' => 'session', 'seconds' => 30, 'pages' => self::path('starts', '/catalogue/')]],
                'planned_days' => 14, 'decision' => ['by' => 'guarded', 'worthwhile' => 0.02, 'margins' => ['read' => 0.02]],
                'effects' => [['goes on', 'shelf', 0.16, ['/catalogue/', ['/loan', '/loan/details', '/loan/confirm', '/loan/done']]], ['reads less', 'shelf', 0.45, ['/catalogue/']]],
                'variants' => [
                    self::variant('control', 'As it is', 50),
                    self::variant('shelf', 'Loan first', 50, [['kind' => 'text', 'selector' => '#borrow', 'value' => 'Take it home today']]),
                ],
            ]),
            self::of('instrument-ask', 'Ask in fewer words', 'Two words on the button are enough.', [
                'state' => 'paused', 'days' => [14, 4], 'before' => ['days' => 9, 'weights' => ['control' => 50, 'two-words' => 50]], 'pages' => self::path('starts', '/catalogue/'), 'goals' => [self::goal('loan-noted', 'Loan noted', '/loan/done')],
                'variants' => [
                    self::variant('control', 'As it is', 70),
                    self::variant('two-words', 'Two words', 30, [['kind' => 'text', 'selector' => '#borrow', 'value' => 'Borrow it']]),
                ],
            ]),
            self::of('workshop-invite', 'Invite to the next Saturday', 'A date makes the workshop real.', [
                'state' => 'draft', 'days' => null, 'pages' => self::path('is', '/workshops'), 'goals' => [self::goal('joined', 'Joined', '/join/done')],
                'variants' => [
                    self::variant('control', 'As it is', 50),
                    self::variant('date', 'With the date', 50, [['kind' => 'text', 'selector' => '.lead', 'value' => 'The next one is on Saturday. There are four chairs left.']]),
                ],
            ]),
            self::of('evening-shelves', 'The shelves by candlelight', 'Whoever looks in the evening wants fewer instruments and a warmer page.', [
                'kind' => 'redirect', 'owner' => 'Ines Calder', 'labels' => ['catalogue', 'evening'], 'planned_days' => 28,
                'notes' => 'Moss keeps the evening page out of the menu and out of the sitemap.',
                'state' => 'draft', 'days' => null, 'pages' => self::path('is', '/catalogue'), 'goals' => [self::goal('loan-noted', 'Loan noted', '/loan/done')],
                'variants' => [
                    self::variant('control', 'As it is', 50),
                    [...self::variant('evening', 'Evening shelves', 50), 'target' => '/catalogue-evening'],
                ],
            ]),
            self::of('catalogue-lead', 'Drop the second line', 'The line under the heading is not read.', [
                'state' => 'archived', 'days' => [27, 18], 'pages' => self::path('is', '/catalogue'), 'goals' => [self::goal('loan-noted', 'Loan noted', '/loan/done')],
                'variants' => [
                    self::variant('control', 'As it is', 50),
                    self::variant('without', 'Without the line', 50, [['kind' => 'style', 'selector' => '.lead', 'property' => 'display', 'value' => 'none']]),
                ],
            ]),
        ];
    }

    /**
     * @param array<string, mixed> $rest
     *
     * @return array<string, mixed>
     */
    private static function of(string $key, string $name, string $hypothesis, array $rest): array
    {
        return ['pellix' => 1, 'key' => $key, 'name' => $name, 'hypothesis' => $hypothesis, 'salt' => "larkhollow-{$key}", 'fault' => [], 'effects' => [], ...$rest];
    }

    /**
     * @param list<array<string, string>> $changes
     *
     * @return array<string, mixed>
     */
    private static function variant(string $key, string $name, int $weight, array $changes = []): array
    {
        return ['key' => $key, 'name' => $name, 'weight' => $weight, 'control' => $key === 'control', 'changes' => $changes];
    }

    /** @return array<string, mixed> */
    private static function goal(string $key, string $name, string $path): array
    {
        return ['key' => $key, 'name' => $name, 'role' => 'primary', 'pages' => self::path('is', $path)];
    }

    /** @return array<string, string> */
    private static function path(string $op, string $value): array
    {
        return ['fact' => 'url.path', 'op' => $op, 'value' => $value];
    }
}
