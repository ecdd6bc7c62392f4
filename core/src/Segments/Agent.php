<?php

declare(strict_types=1);

namespace Pellix\Core\Segments;

/**
 * Device and browser, as far as a user agent string tells them. runtime/src/agent.ts tells them alike, held to it by
 * tests/vectors/agents.json. Common practice, no source: no standard says what such a string contains.
 */
final class Agent
{
    public const DEVICES = ['desktop', 'mobile', 'tablet'];

    public const BROWSERS = ['chrome', 'safari', 'firefox', 'edge', 'opera', 'samsung', 'other'];

    /** @return 'tablet'|'mobile'|'desktop' */
    public static function device(string $agent): string
    {
        return match (true) {
            preg_match('/iPad|Tablet|PlayBook|Silk(?!.*Mobile)|Android(?!.*Mobile)/', $agent) === 1 => 'tablet',
            preg_match('/Mobi|iPhone|iPod|Android/', $agent) === 1 => 'mobile',
            default => 'desktop',
        };
    }

    /** Whether it says of itself that it is a program that reads pages. */
    public static function isCrawler(string $agent): bool
    {
        return preg_match('/(?:^|[^u])bot\b|crawl|spider|slurp|externalhit|fetcher|archiver|lighthouse/i', $agent) === 1;
    }

    /** @return 'edge'|'opera'|'samsung'|'firefox'|'chrome'|'safari'|'other' */
    public static function browser(string $agent): string
    {
        return match (true) {
            preg_match('/Edg(?:e|A|iOS)?\//', $agent) === 1 => 'edge',
            preg_match('/OPR\/|Opera/', $agent) === 1 => 'opera',
            preg_match('/SamsungBrowser\//', $agent) === 1 => 'samsung',
            preg_match('/Firefox\/|FxiOS\//', $agent) === 1 => 'firefox',
            preg_match('/Chrome\/|CriOS\//', $agent) === 1 => 'chrome',
            preg_match('/Safari\//', $agent) === 1 => 'safari',
            default => 'other',
        };
    }
}
