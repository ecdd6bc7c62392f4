<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Rules\Condition;
use Pellix\Core\Rules\Op;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\Spelling;

/** Tells why an address that a page rule does not match comes close to matching it. */
final class NearMiss
{
    /** Paths that differ in so few places look alike, a short one in a single place only. */
    private const TYPOS = 2;

    private const SHORT = 8;

    /** @return string|null what keeps it from matching; null where it matches, or does not even come close */
    public static function why(Rule $rule, string $url): ?string
    {
        $facts = AddressFacts::of($url);
        if ($rule->matches($facts)) {
            return null;
        }
        $failed = array_values(array_filter(iterator_to_array($rule->conditions(), false), static fn (Condition $one): bool => ! $one->matches($facts)));
        $reasons = array_map(static fn (Condition $one): ?string => self::reason($one, $facts), $failed);

        // Several conditions that fail are no near miss, unless each fails narrowly.
        return $failed === [] || in_array(null, $reasons, true) ? null : implode('; ', array_unique(array_filter($reasons)));
    }

    private static function reason(Condition $condition, AddressFacts $facts): ?string
    {
        $seen = $facts->get($condition->fact);
        $wanted = $condition->value;
        if (str_starts_with($condition->fact, 'url.query.') && $seen === null) {
            return 'it has no query parameter '.substr($condition->fact, 10);
        }
        if ($condition->fact === 'url.host' && is_string($wanted)) {
            return "its host is {$seen}";
        }
        if ($condition->fact !== 'url.path' || ! is_string($wanted) || ! is_string($seen) || ! in_array($condition->op, [Op::Is, Op::Starts, Op::Ends, Op::Contains], true)) {
            return null;
        }
        foreach (['slash' => 'only the slash at the end differs', 'case' => 'only capitals differ'] as $what => $why) {
            if (Condition::of($condition->fact, $condition->op, $wanted, [...$condition->ignore, $what])->matches($facts)) {
                return $why;
            }
        }
        [$seen, $wanted] = [Spelling::path($seen), Spelling::path($wanted)];
        if ($condition->op === Op::Is && str_starts_with($seen, rtrim($wanted, '/').'/') && $wanted !== '/') {
            return 'its path goes on after that: '.substr($seen, strlen(rtrim($wanted, '/')));
        }
        if ($condition->op === Op::Is && $seen !== '/' && str_starts_with($wanted, $seen.'/')) {
            return 'its path ends before that';
        }
        if (strlen($wanted) > 4 && strlen($wanted) < 255 && strlen($seen) < 255 && levenshtein($seen, $wanted) <= (strlen($wanted) > self::SHORT ? self::TYPOS : 1)) {
            return "its path is spelled {$seen}";
        }

        return null;
    }
}
