<?php

declare(strict_types=1);

namespace Demo\Seed;

use App\Measures\PlanFile;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Pellix\Core\Events\EventPlan;
use Pellix\Core\Goals\Goal;

/** The demo's goals, of every kind, and its tracking plan. */
final readonly class Measures
{
    public function __construct(private PlanFile $plan)
    {
    }

    public function make(Site $site, CarbonImmutable $now): void
    {
        foreach (self::goals() as $json) {
            $definition = array_diff_key(Goal::read($json)->toArray(), ['role' => 0]);
            $goal = $site->goals()->create(['key' => $json['key'], 'name' => $json['name'], 'definition' => $definition, 'revision' => 1]);
            $goal->revisions()->create(['revision' => 1, 'definition' => $definition, 'author_id' => $site->users()->value('users.id'), 'author' => 'Ines Calder', 'from' => $now->subDays(28)]);
        }
        $this->plan->keep($site, array_map(EventPlan::read(...), self::plan()));
    }

    /** @return list<array<string, mixed>> */
    private static function goals(): array
    {
        $at = static fn (string $path): array => ['fact' => 'url.path', 'op' => 'is', 'value' => $path, 'ignore' => ['slash']];

        return [
            ['key' => 'loan-noted', 'name' => 'Loan noted', 'kind' => 'page', 'count' => 'visitor', 'pages' => $at('/loan/done')],
            ['key' => 'joined', 'name' => 'Joined', 'kind' => 'page', 'count' => 'visitor', 'pages' => $at('/join/done')],
            ['key' => 'gave', 'name' => 'Gave', 'kind' => 'page', 'count' => 'visitor', 'pages' => $at('/donate/thanks')],
            ['key' => 'gift', 'name' => 'Gift in euros', 'kind' => 'order', 'count' => 'every', 'currency' => 'EUR'],
            ['key' => 'next-pressed', 'name' => 'Next pressed', 'kind' => 'click', 'count' => 'session', 'selector' => '#next', 'pages' => $at('/loan')],
            ['key' => 'read', 'name' => 'Read an instrument for half a minute', 'kind' => 'engaged', 'count' => 'session', 'seconds' => 30, 'pages' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/catalogue/']],
            ['key' => 'loan-in-one-go', 'name' => 'Loan in one go', 'kind' => 'steps', 'count' => 'visitor', 'within' => 900, 'steps' => [
                ['kind' => 'page', 'pages' => $at('/loan')], ['kind' => 'page', 'pages' => $at('/loan/details'), 'optional' => true], ['kind' => 'page', 'pages' => $at('/loan/done')],
            ]],
            ['key' => 'long-membership', 'name' => 'Membership for two years', 'kind' => 'event', 'event' => 'member_joined', 'count' => 'every', 'when' => ['fact' => 'event.props.months', 'op' => 'gte', 'value' => 24], 'value' => ['fixed' => 30], 'currency' => 'EUR'],
            ['key' => 'bench-booked', 'name' => 'Bench booked', 'kind' => 'event', 'event' => 'bench_booked', 'count' => 'every', 'value' => ['prop' => 'deposit'], 'currency' => 'EUR'],
        ];
    }

    /** @return list<array<string, mixed>> */
    private static function plan(): array
    {
        return [
            ['name' => 'order', 'meaning' => 'Somebody gave money.', 'sent_from' => 'The payment page, by pixel', 'schema' => [
                'properties' => [
                    'order_id' => ['type' => 'string', 'pattern' => '^G-\\d{6}$', 'description' => 'Number of the gift'], 'value' => ['type' => 'number', 'minimum' => 1], 'currency' => ['const' => 'EUR'],
                ], 'required' => ['order_id', 'value', 'currency'],
            ], 'examples' => [['order_id' => 'G-004711', 'value' => 40, 'currency' => 'EUR']]],
            ['name' => 'member_joined', 'meaning' => 'A membership was taken out.', 'sent_from' => 'The page after the form', 'schema' => [
                'properties' => ['months' => ['type' => 'integer', 'enum' => [12, 24]], 'via' => ['type' => 'string']], 'required' => ['months'],
            ], 'examples' => [['months' => 12, 'via' => 'form']]],
            ['name' => 'bench_booked', 'meaning' => 'A repair bench was booked.', 'sent_from' => 'The booking desk, from its data layer', 'schema' => [
                'properties' => ['bench' => ['type' => 'string'], 'deposit' => ['type' => 'number']], 'required' => ['bench', 'deposit'],
            ], 'examples' => [['bench' => 'window', 'deposit' => 15]]],
        ];
    }
}
