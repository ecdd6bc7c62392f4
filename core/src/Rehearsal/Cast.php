<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Rules\Condition;
use Pellix\Core\Rules\Fact;
use Pellix\Core\Rules\Op;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;
use Pellix\Core\Segments\Agent;

/**
 * The guests of a rehearsal: one who satisfies the audience rule, and for each of its conditions one with whom exactly that
 * condition fails. What cannot be made in a browser, such as another path of the page, is left out.
 */
final class Cast
{
    private const OTHER = 'pellix-other';

    /** Facts that a browser can be given. */
    private const MADE = ['url.query.', 'referrer.host', 'device', 'browser', 'language', 'visitor.returning', 'cookie.', 'data.'];

    /** Who satisfies the rule; null where no such guest can be made. */
    public static function enters(string $page, PageRule $pages, ?Rule $audience): ?Guest
    {
        $facts = $audience === null ? [] : self::facts($audience->toArray(), true);
        $guest = $facts === null ? null : self::guest($page, $facts, null);

        return $guest !== null && $pages->matches($guest->url) && ($audience === null || $audience->matches($guest)) ? $guest : null;
    }

    /** @return list<Guest> with each of whom one condition fails, and with it the rule */
    public static function refused(string $page, PageRule $pages, ?Rule $audience): array
    {
        $enters = $audience === null ? null : self::enters($page, $pages, $audience);
        if ($enters === null) {
            return [];
        }
        $guests = [];
        foreach ($audience->conditions() as $condition) {
            foreach ([true, false] as $wanted) {
                $value = self::value($condition, $wanted);
                // The condition that holds with who enters is the one that is turned round.
                if ($value === false || $condition->matches($enters) === $wanted) {
                    continue;
                }
                $made = [...$enters->made, $condition->fact => $value[0]];
                $guest = self::guest($page, $made, self::words($condition));
                if (! $audience->matches($guest) && $pages->matches($guest->url)) {
                    $guests[] = $guest;
                }
            }
        }

        return $guests;
    }

    /** @param array<string, string|int|float|bool|null> $facts */
    private static function guest(string $page, array $facts, ?string $fails): Guest
    {
        $query = [];
        foreach ($facts as $fact => $value) {
            $isMade = array_filter(self::MADE, static fn (string $stem): bool => $fact === $stem || (str_ends_with($stem, '.') && str_starts_with($fact, $stem)));
            if ($isMade === []) {
                // Of the page itself nothing is changed: it has to be so already.
                continue;
            }
            if (str_starts_with($fact, 'url.query.')) {
                $query[substr($fact, 10)] = $value;
            }
        }

        return new Guest(self::withQuery($page, $query), $facts, $fails);
    }

    /**
     * What has to be of each fact for a rule to hold, or not to.
     *
     * @return array<string, string|int|float|bool|null>|null null where nothing would do
     */
    private static function facts(mixed $rule, bool $wanted): ?array
    {
        $rule = (array) $rule;
        if (isset($rule['not'])) {
            return self::facts($rule['not'], ! $wanted);
        }
        foreach (['all' => true, 'any' => false] as $name => $needsAll) {
            if (isset($rule[$name])) {
                return $needsAll === $wanted ? self::every(array_values((array) $rule[$name]), $wanted) : self::one(array_values((array) $rule[$name]), $wanted);
            }
        }
        foreach (RuleReader::read($rule)->conditions() as $condition) {
            $value = self::value($condition, $wanted);

            return $value === false ? null : [$condition->fact => $value[0]];
        }

        return null;
    }

    /**
     * @param list<mixed> $rules
     *
     * @return array<string, string|int|float|bool|null>|null
     */
    private static function every(array $rules, bool $wanted): ?array
    {
        $all = [];
        foreach ($rules as $rule) {
            $facts = self::facts($rule, $wanted);
            if ($facts === null) {
                return null;
            }
            // Where two ask for the same fact, whoever looks at the whole decides whether it holds.
            $all = [...$facts, ...$all];
        }

        return $all;
    }

    /**
     * @param list<mixed> $rules
     *
     * @return array<string, string|int|float|bool|null>|null
     */
    private static function one(array $rules, bool $wanted): ?array
    {
        foreach ($rules as $rule) {
            $facts = self::facts($rule, $wanted);
            if ($facts !== null) {
                return $facts;
            }
        }

        return null;
    }

    /** @return array{string|int|float|bool|null}|false a value with which a condition holds, or does not; false where none is known */
    private static function value(Condition $condition, bool $wanted): array|false
    {
        $value = $condition->value;
        $first = is_array($value) ? ($value[0] ?? null) : $value;
        $text = is_string($value) ? $value : '';
        $number = is_int($value) || is_float($value) ? $value : 0;
        $candidates = match ($condition->op) {
            Op::Is, Op::IsNot, Op::In => [$first, self::OTHER],
            Op::Starts => ["{$text}x", self::OTHER],
            Op::Ends => ["x{$text}", self::OTHER],
            Op::Contains => ["x{$text}x", self::OTHER],
            Op::Exists => ['pellix', null],
            Op::Less, Op::LessOrEqual, Op::Greater, Op::GreaterOrEqual => [$number, $number - 1, $number + 1],
            Op::Matches => [...self::examples($text), self::OTHER, ''],
        };
        foreach ([...$candidates, ...self::others($condition), null] as $candidate) {
            $candidate = is_scalar($candidate) ? $candidate : null;
            if ($condition->matches(self::guest('https://pellix.invalid/', [$condition->fact => $candidate], null)) === $wanted && self::canBe($condition->fact, $candidate)) {
                return [$candidate];
            }
        }

        return str_starts_with($condition->fact, 'url.') && ! str_starts_with($condition->fact, 'url.query.') && $wanted ? [null] : false;
    }

    /** @return list<string|int|float|bool> */
    private static function others(Condition $condition): array
    {
        return match (Fact::named($condition->fact)) {
            Fact::Device => ['desktop', 'tablet', 'mobile'],
            Fact::Browser => Agent::BROWSERS,
            Fact::Language => ['en-GB', 'de-DE', 'pt-PT'],
            Fact::Returning => [true, false],
            default => is_bool($condition->value) ? [true, false] : (is_int($condition->value) || is_float($condition->value) ? [$condition->value + 1] : []),
        };
    }

    /** Whether a browser can be made to say so. */
    private static function canBe(string $fact, string|int|float|bool|null $value): bool
    {
        return match (Fact::named($fact)) {
            Fact::Device => in_array($value, ['desktop', 'tablet', 'mobile'], true),
            Fact::Browser => in_array($value, Agent::BROWSERS, true) && $value !== 'other',
            Fact::Language => is_string($value) && preg_match('/\A[a-z]{2,3}(-[A-Za-z0-9]{2,8})*\z/', $value) === 1,
            Fact::Returning => is_bool($value),
            Fact::Cookie => $value === null || (is_string($value) && preg_match('/\A[!#-+\--:<-\[\]-~]*\z/', $value) === 1),
            Fact::ReferrerHost => $value === null || (is_string($value) && preg_match('/\A[a-z0-9.-]+\z/i', $value) === 1),
            default => true,
        };
    }

    /**
     * Texts that a simple pattern may match: what stands in it, without its marks.
     *
     * @return list<string>
     */
    private static function examples(string $pattern): array
    {
        $plain = (string) preg_replace('/\\\\([.\/?+*()\[\]{}|^$-])/', '$1', trim($pattern, '^$'));
        $first = explode('|', trim($plain, '()'))[0];

        return [$plain, $first, str_replace(['.*', '.+', '\d+', '\d', '\w+', '\w'], ['', 'x', '1', '1', 'x', 'x'], $first), (string) preg_replace('/[\[\](){}?*+^$\\\\]/', '', $first)];
    }

    /** @param array<string, string|int|float|bool|null> $query */
    private static function withQuery(string $page, array $query): string
    {
        if ($query === []) {
            return $page;
        }
        $parts = explode('#', $page, 2);
        $fragment = $parts[1] ?? null;
        [$address, $there] = explode('?', $parts[0], 2) + ['', ''];
        parse_str($there, $known);
        $all = array_filter([...$known, ...$query], static fn (mixed $value): bool => $value !== null);

        return $address.($all === [] ? '' : '?'.http_build_query($all, '', '&', PHP_QUERY_RFC3986)).($fragment === null ? '' : "#{$fragment}");
    }

    private static function words(Condition $condition): string
    {
        $fact = Fact::named($condition->fact);
        $label = $fact === null ? $condition->fact : $fact->label().(str_ends_with($fact->value, '*') ? ' '.substr($condition->fact, strlen($fact->value) - 1) : '');

        return "{$label}, wanted {$condition->op->wanted($condition->value)}";
    }
}
