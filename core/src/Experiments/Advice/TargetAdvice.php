<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Advice;

/** What may go wrong with the pages that a redirect test leads to. */
final class TargetAdvice
{
    /**
     * @param list<TargetSeen> $targets
     *
     * @return list<Advice>
     */
    public static function of(array $targets): array
    {
        $all = [];
        foreach ($targets as $target) {
            foreach (self::words($target) as $code => $words) {
                $all[] = new Advice(AdviceCode::from($code), $target->field, $words);
            }
        }

        return $all;
    }

    /** @return array<string, string> code => words */
    private static function words(TargetSeen $target): array
    {
        $url = $target->url;
        $isReached = $target->isInspected && ! in_array('page', $target->faulty, true);
        $from = count($target->linkedFrom);

        return array_filter([
            AdviceCode::TargetUnknown->value => $target->isInspected ? null : "{$url} has not been inspected: nobody knows yet whether it is there and carries the snippet.",
            AdviceCode::TargetUnreachable->value => $target->isInspected && ! $isReached ? "{$url} could not be fetched at the last inspection: visitors of this variant would meet an error." : null,
            AdviceCode::TargetNoSnippet->value => $isReached && in_array('snippet', $target->faulty, true) ? "The snippet is missing or does not work on {$url}: whatever visitors of this variant do there is not counted, and it will look as if they had gone." : null,
            AdviceCode::TargetLinked->value => $from > 0 ? ($from === 1 ? 'One known page links' : "{$from} known pages link")." to {$url}, such as {$target->linkedFrom[0]}: visitors of every variant can get there, and the comparison is blurred." : null,
            AdviceCode::TargetChain->value => $target->chain !== null ? "“{$target->chain}”, which runs, sends visitors of {$url} away again. Whoever arrives from here is not sent on, and is missing there." : null,
            AdviceCode::TargetCanonical->value => $isReached && ! $target->hasCanonical ? "{$url} should name the original as its canonical page (<link rel=\"canonical\">), so that search engines do not list both." : null,
            AdviceCode::TargetCookie->value => $target->sharesCookie ? null : "{$url} is on a host that shares no cookie with the page: visitors have another id there, so that what they do is not counted for their variant.",
        ]);
    }
}
