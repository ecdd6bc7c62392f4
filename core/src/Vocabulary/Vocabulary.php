<?php

declare(strict_types=1);

namespace Pellix\Core\Vocabulary;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Exclusions\ExclusionKind;
use Pellix\Core\Audit\Rows\Behind;
use Pellix\Core\Chain\Link;
use Pellix\Core\Chain\State;
use Pellix\Core\Events\EventName;
use Pellix\Core\Experiments\Advice\AdviceCode;
use Pellix\Core\Experiments\Advice\AdviceSeverity;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Experiments\ChangePlace;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\Ready\ReadyCode;
use Pellix\Core\Experiments\Ready\ReadyState;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Happenings\Kind;
use Pellix\Core\Notices\DeliveryState;
use Pellix\Core\Notices\Wish;
use Pellix\Core\Planning\Caution;
use Pellix\Core\Planning\Plan;
use Pellix\Core\Rehearsal\Aim;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Screen;
use Pellix\Core\Rehearsal\StepKind as RehearsalStep;
use Pellix\Core\Rules\Fact;
use Pellix\Core\Rules\Op;
use Pellix\Core\Rules\Place;
use Pellix\Core\SignIn\SecurityMatter;
use Pellix\Core\Wiring\Findings\FindingCode;
use Pellix\Core\Wiring\Findings\Severity;
use Pellix\Core\Wiring\Tags\Tag;

/** Every word that has a fixed meaning, from the enums that define it: what docs/vocabulary.json says to OpenAPI and TypeScript. */
final class Vocabulary
{
    /** @return array<string, array<string, mixed>> each a JSON Schema with an `enum`, and what else is to know of its words in `x-words` */
    public static function all(): array
    {
        return [
            'Fact' => self::words(array_column(Fact::cases(), 'value'), array_map(static fn (Fact $one): array => ['label' => $one->label(), 'places' => array_column($one->places(), 'value'), 'values' => $one->values()], Fact::cases())),
            'Place' => self::words(array_column(Place::cases(), 'value'), array_map(static fn (Place $one): array => ['label' => $one->words()], Place::cases())),
            'Op' => self::words(array_column(Op::cases(), 'value')),
            'GoalKind' => self::words([...Kind::ofGoals(), 'steps'], [...array_map(static fn (string $one): array => ['label' => Kind::from($one)->label()], Kind::ofGoals()), ['label' => 'Steps are taken in order']]),
            'StepKind' => self::words(Kind::ofGoals()),
            'TriggerKind' => self::words(Kind::ofTriggers(), array_map(static fn (string $one): array => ['label' => Kind::from($one)->label()], Kind::ofTriggers())),
            'CountMode' => self::words(Goal::COUNTS),
            'Role' => self::words(Goal::ROLES),
            'FindingCode' => self::words(array_column(FindingCode::cases(), 'value'), array_map(static fn (FindingCode $one): array => ['label' => $one->title(), 'severity' => $one->severity()->value, 'link' => $one->link()->value], FindingCode::cases())),
            'SecurityMatter' => self::words(array_column(SecurityMatter::cases(), 'value'), array_map(static fn (SecurityMatter $one): array => ['label' => $one->label()], SecurityMatter::cases())),
            'Severity' => self::words(array_column(Severity::cases(), 'value')),
            'LinkName' => self::words(array_column(Link::cases(), 'value'), array_map(static fn (Link $one): array => ['label' => $one->label()], Link::cases())),
            'LinkState' => self::words(array_column(State::cases(), 'value'), array_map(static fn (State $one): array => ['label' => $one->label(), 'gravity' => $one->gravity()], State::cases())),
            'Stage' => self::words(array_column(Stage::cases(), 'value')),
            'Action' => self::words(Stage::actions()),
            'ExperimentKind' => self::words(Experiment::KINDS),
            'ChangeKind' => self::words(array_column(ChangeKind::cases(), 'value'), array_map(static fn (ChangeKind $one): array => ['label' => $one->label(), 'selector' => $one->hasSelector(), 'members' => $one->members(), 'code' => $one->isCode()], ChangeKind::cases())),
            'ChangePlace' => self::words(array_column(ChangePlace::cases(), 'value'), array_map(static fn (ChangePlace $one): array => ['label' => $one->label()], ChangePlace::cases())),
            'AdviceCode' => self::words(array_column(AdviceCode::cases(), 'value'), array_map(static fn (AdviceCode $one): array => ['severity' => $one->severity()->value, 'link' => $one->link()->value], AdviceCode::cases())),
            'AdviceSeverity' => self::words(array_column(AdviceSeverity::cases(), 'value')),
            'ReadyCode' => self::words(array_column(ReadyCode::cases(), 'value'), array_map(static fn (ReadyCode $one): array => ['label' => $one->label(), 'link' => $one->link()?->value], ReadyCode::cases())),
            'ReadyState' => self::words(array_column(ReadyState::cases(), 'value')),
            'LogbookThing' => self::words(array_column(Thing::cases(), 'value'), array_map(static fn (Thing $one): array => ['label' => $one->label()], Thing::cases())),
            'Behind' => self::words(array_column(Behind::cases(), 'value'), array_map(static fn (Behind $one): array => ['label' => $one->label()], Behind::cases())),
            'ExclusionKind' => self::words(array_column(ExclusionKind::cases(), 'value'), array_map(static fn (ExclusionKind $one): array => ['label' => $one->label()], ExclusionKind::cases())),
            'Wish' => self::words(array_column(Wish::cases(), 'value'), array_map(static fn (Wish $one): array => ['label' => $one->label()], Wish::cases())),
            'DeliveryState' => self::words(array_column(DeliveryState::cases(), 'value')),
            'CheckCode' => self::words(array_column(CheckCode::cases(), 'value'), array_map(static fn (CheckCode $one): array => ['label' => $one->title(), 'severity' => $one->severity()->value, 'link' => $one->link()->value], CheckCode::cases())),
            'AuditCode' => self::words(array_column(AuditCode::cases(), 'value'), array_map(static fn (AuditCode $one): array => ['label' => $one->label(), 'link' => $one->link()->value], AuditCode::cases())),
            'RehearsalScreen' => self::words(array_column(Screen::cases(), 'value'), array_map(static fn (Screen $one): array => ['label' => $one->label(), 'width' => $one->width(), 'height' => $one->height()], Screen::cases())),
            'RehearsalStep' => self::words(array_column(RehearsalStep::cases(), 'value'), array_map(static fn (RehearsalStep $one): array => ['label' => $one->label(), 'element' => $one->needsElement()], RehearsalStep::cases())),
            'RehearsalAim' => self::words(array_column(Aim::cases(), 'value'), array_map(static fn (Aim $one): array => ['label' => $one->label(), 'expected' => $one->canBeExpected(), 'awaited' => $one->canBeAwaited()], Aim::cases())),
            'PlanCaution' => self::words(array_column(Caution::cases(), 'value')),
            'PlanMeasure' => self::words(Plan::MEASURES),
            'OwnEvent' => self::words(array_column(EventName::cases(), 'value'), array_map(static fn (EventName $one): array => ['label' => $one->label(), 'schema' => $one->schema()], EventName::cases())),
            'TagKind' => self::words(Tag::KINDS),
            'ConsentCategory' => self::words(Tag::CONSENTS),
        ];
    }

    /** The file, as it is checked in. */
    public static function json(): string
    {
        return json_encode(['$comment' => 'Written by `bin/pellix vocabulary` from the enums in core/src; do not change it by hand.', ...self::all()], JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE)."\n";
    }

    /**
     * @param list<string>               $words
     * @param list<array<string, mixed>> $about one for each word, or none at all
     *
     * @return array<string, mixed>
     */
    private static function words(array $words, array $about = []): array
    {
        return ['enum' => $words, ...($about === [] ? [] : ['x-words' => array_combine($words, $about)])];
    }
}
