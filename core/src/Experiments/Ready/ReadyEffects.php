<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Ready;

use Pellix\Core\Experiments\Advice\Advice;
use Pellix\Core\Experiments\Advice\AdviceCode;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;

/** Whether what the variants change, or lead to, is there and in order. */
final class ReadyEffects
{
    private const TARGET_BLOCKERS = [AdviceCode::TargetUnknown, AdviceCode::TargetUnreachable, AdviceCode::TargetNoSnippet, AdviceCode::TargetCookie];
    private const TARGET_ADVICE = [AdviceCode::TargetLinked, AdviceCode::TargetChain, AdviceCode::TargetCanonical];

    /** @return list<ReadyPoint> */
    public static function of(ReadyFacts $facts, Experiment $experiment): array
    {
        return [
            self::effects($experiment),
            ...($experiment->kind === 'redirect' ? self::targets($facts->advice) : self::selectors($facts, $experiment)),
            ...(ReadyList::advised($facts->advice, ReadyCode::Clashes, ReadyState::Advice, AdviceCode::OtherExperiment)
                ?: [new ReadyPoint(ReadyCode::Clashes, ReadyState::Fine, 'No experiment that runs on these pages changes the same elements.')]),
        ];
    }

    private static function effects(Experiment $experiment): ReadyPoint
    {
        $empty = array_values(array_filter($experiment->variants, static fn (DeclaredVariant $one): bool => ! $one->variant->isControl && $one->variant->weight > 0 && $one->effects() === 0));

        return $empty === []
            ? new ReadyPoint(ReadyCode::Effects, ReadyState::Fine, 'Each variant but the control shows something else.')
            : new ReadyPoint(ReadyCode::Effects, ReadyState::Advice, "Variant “{$empty[0]->name}” changes nothing: only to test the split itself is that right.");
    }

    /**
     * @param list<Advice> $advice
     *
     * @return list<ReadyPoint>
     */
    private static function targets(array $advice): array
    {
        $points = [
            ...ReadyList::advised($advice, ReadyCode::Targets, ReadyState::Blocker, ...self::TARGET_BLOCKERS),
            ...ReadyList::advised($advice, ReadyCode::Targets, ReadyState::Advice, ...self::TARGET_ADVICE),
        ];

        return $points ?: [new ReadyPoint(ReadyCode::Targets, ReadyState::Fine, 'Its targets answer, carry the snippet, and no known page links to them.')];
    }

    /** @return list<ReadyPoint> */
    private static function selectors(ReadyFacts $facts, Experiment $experiment): array
    {
        $missing = ReadyList::advised($facts->advice, ReadyCode::Selectors, ReadyState::Blocker, AdviceCode::SelectorNone);
        if ($missing !== []) {
            return $missing;
        }
        if (array_filter($experiment->variants, static fn (DeclaredVariant $one): bool => $one->made() !== []) === []) {
            return [];
        }

        return [$facts->copies === []
            ? new ReadyPoint(ReadyCode::Selectors, ReadyState::Advice, 'No inspected page is kept of those that it is for: nobody knows whether what it changes is there.')
            : new ReadyPoint(ReadyCode::Selectors, ReadyState::Fine, 'Whatever it changes was found on the page as it was inspected.', examples: [$facts->copies[0]->url])];
    }
}
