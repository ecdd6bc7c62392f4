<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/** What a comparison says, in words: the consequence first. */
final class Sentence
{
    public static function of(Comparison $of): string
    {
        $item = $of->item;
        $leading = $of->leading();
        if ($leading === null || $leading->estimate === null) {
            return "Nothing can be said of “{$item->name}” yet: too few visitors of both the control and another variant.";
        }
        $estimate = $leading->estimate;
        $sentence = match ($leading->verdict) {
            Verdict::Better => self::difference($item, $leading, $estimate, $item->isLower ? 'lowers' : 'raises'),
            Verdict::Worse => $item->role === 'guardrail' ? self::fallen($item, $leading, $estimate) : self::difference($item, $leading, $estimate, $item->isLower ? 'raises' : 'lowers'),
            Verdict::NotWorse => "{$leading->name} keeps “{$item->name}”: it is worse by ".Amounts::size($item, self::worst($item, $estimate)).' at the very most, and '.Amounts::size($item, (float) $item->margin).' are allowed.',
            Verdict::TooEarly => "Too early to say of “{$item->name}”: {$leading->name} lies ".self::between($item, $estimate).'.',
            default => $item->margin !== null
                ? "Not shown that {$leading->name} keeps “{$item->name}”: it may be worse by ".Amounts::size($item, self::worst($item, $estimate)).', and '.Amounts::size($item, $item->margin).' are allowed.'
                : "No difference found in “{$item->name}”: {$leading->name} lies ".self::between($item, $estimate).'; more either way is ruled out.',
        };
        $asked = self::asked($of, $leading);
        $others = self::others($of, $leading);

        return trim("{$sentence} {$asked} {$others}");
    }

    private static function difference(Item $item, VariantResult $leading, Estimate $estimate, string $verb): string
    {
        $interval = $estimate->interval;
        // The level of several comparisons together is met by the p-value; the interval is of one, and of few visitors it may just hold 0.
        $size = $interval->low < 0 && $interval->high > 0 ? 'by about '.Amounts::size($item, $estimate->points) : 'by '.Amounts::range($item, $interval->low, $interval->high);
        $relative = $estimate->relative === null ? '' : ', that is '.Amounts::relative($estimate->relative);

        return "{$leading->name} {$verb} “{$item->name}” {$size}: most likely ".Amounts::signed($item, $estimate->points)."{$relative}.";
    }

    private static function fallen(Item $item, VariantResult $leading, Estimate $estimate): string
    {
        $worse = Amounts::signed($item, $estimate->points);

        return "{$leading->name} harms “{$item->name}”: {$worse} (".Amounts::signed($item, $estimate->interval->low).' to '.Amounts::signed($item, $estimate->interval->high).')'
            .($item->margin === null ? '.' : ', and '.Amounts::size($item, $item->margin).' are allowed.');
    }

    /** By how much it may be worse. */
    private static function worst(Item $item, Estimate $estimate): float
    {
        return max(0.0, $item->isLower ? $estimate->interval->high : -$estimate->interval->low);
    }

    private static function between(Item $item, Estimate $estimate): string
    {
        [$low, $high] = [$estimate->interval->low, $estimate->interval->high];
        if (! is_finite($low) || ! is_finite($high)) {
            return 'anywhere';
        }
        $from = Amounts::size($item, $low).($low < 0 ? ' below' : ' above');
        $to = Amounts::size($item, $high).($high < 0 ? ' below' : ' above');

        return "between {$from} and {$to} the control";
    }

    /** How a difference compares with the one that is worth having. */
    private static function asked(Comparison $of, VariantResult $leading): string
    {
        $worthwhile = $of->item->worthwhile;
        $estimate = $leading->estimate;
        if ($worthwhile === null || $estimate === null) {
            return '';
        }
        $size = Amounts::size($of->item, $worthwhile);
        $sign = $of->item->isLower ? -1 : 1;
        [$least, $most] = $sign > 0 ? [$estimate->interval->low, $estimate->interval->high] : [-$estimate->interval->high, -$estimate->interval->low];

        return match (true) {
            $leading->verdict === Verdict::Better && $least >= $worthwhile => "At least the {$size} that were asked for.",
            $leading->verdict === Verdict::Better && $most < $worthwhile => "Less than the {$size} that were asked for.",
            $leading->verdict === Verdict::Better => "Asked for were {$size}.",
            $leading->verdict === Verdict::NoDifference && $most < $worthwhile => "The {$size} that were asked for are ruled out.",
            $leading->verdict === Verdict::NoDifference => "The {$size} that were asked for are not ruled out.",
            default => '',
        };
    }

    /** Where there are several variants, what became of the others. */
    private static function others(Comparison $of, VariantResult $leading): string
    {
        $said = [];
        foreach ($of->variants as $one) {
            if ($one->estimate !== null && $one->key !== $leading->key && in_array($one->verdict, [Verdict::Better, Verdict::Worse], true)) {
                $said[] = "{$one->name}: {$one->verdict->value}, ".Amounts::signed($of->item, $one->estimate->points);
            }
        }

        return $said === [] ? '' : implode('; ', $said).'.';
    }
}
