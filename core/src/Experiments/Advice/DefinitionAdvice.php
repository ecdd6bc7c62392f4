<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Advice;

use Pellix\Core\Experiments\NamingPattern;

/** What an experiment lacks as a whole, or what does not fit its site. */
final class DefinitionAdvice
{
    /**
     * @param array<string, mixed> $written    as in an experiment file, whole or not
     * @param NamingPattern|null   $naming     of the site
     * @param int                  $cookieDays how long a visitor's id lasts on the site
     * @param int|null             $matching   known pages that the page rule matches; null where that is not known
     * @param int                  $known      pages that are known at all
     * @param float                $taken      part of the whole that other members of its group have
     *
     * @return list<Advice>
     */
    public static function of(array $written, ?NamingPattern $naming, int $cookieDays, ?int $matching, int $known, float $taken): array
    {
        $all = [];
        $name = is_string($written['name'] ?? null) ? $written['name'] : '';
        if ($naming !== null && $name !== '' && ! $naming->fits($name)) {
            $all[] = new Advice(AdviceCode::NameUnlike, 'name', "Names on this site are made like this: {$naming->template}.");
        }
        if (trim((string) json_encode(array_filter([$written['hypothesis'] ?? '', ...array_values((array) ($written['hypothesis_parts'] ?? []))]))) === '[]') {
            $all[] = new Advice(AdviceCode::NoHypothesis, 'hypothesis', 'Nothing says yet why it is made. Whoever reads it in a year will want to know.');
        }
        if (($written['goals'] ?? []) === []) {
            $all[] = new Advice(AdviceCode::NoGoal, 'goals', 'No goal yet: without one nobody could ever tell which variant did better.');
        }
        if ($matching === 0 && $known > 0) {
            $all[] = new Advice(AdviceCode::NoPage, 'pages', 'The page rule matches none of the known pages.');
        }

        return [...$all, ...self::lifetimes($written, $cookieDays), ...self::group($written, $taken)];
    }

    /**
     * @param array<string, mixed> $written
     *
     * @return list<Advice>
     */
    private static function lifetimes(array $written, int $cookieDays): array
    {
        $planned = $written['planned_days'] ?? null;
        $lifetime = $written['lifetime_days'] ?? null;
        if (! is_numeric($planned)) {
            return [];
        }
        $all = [];
        if (is_numeric($lifetime) && $lifetime < $planned) {
            $all[] = new Advice(AdviceCode::LifetimeShort, 'lifetime_days', "A visitor keeps its variant for {$lifetime} days, and the run is planned for {$planned}: whoever comes back later may get another one, and is counted by the first.");
        }
        if (($written['unit'] ?? 'visitor') !== 'user' && $cookieDays < $planned) {
            $all[] = new Advice(AdviceCode::CookieShort, 'planned_days', "On this site a visitor's cookie lasts for {$cookieDays} days, and the run is planned for {$planned}: whoever comes back later is somebody new, and may get another variant.");
        }

        return $all;
    }

    /**
     * @param array<string, mixed> $written
     *
     * @return list<Advice>
     */
    private static function group(array $written, float $taken): array
    {
        $share = $written['share'] ?? null;
        $key = is_array($written['group'] ?? null) ? $written['group']['key'] ?? null : null;
        if (! is_string($key) || ! is_numeric($share) || $share + $taken <= 1 + 1e-9) {
            return [];
        }

        return [new Advice(AdviceCode::GroupFull, 'share', sprintf('The group “%s” has no room for it: the others that run take %s %% of all, and this one wants %s %%.', $key, round(100 * $taken, 2), round(100 * $share, 2)))];
    }
}
