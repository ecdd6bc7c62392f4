<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Wiring\Findings\Severity;

/**
 * Errors that a page has in a variant and not in the control: of the variant's own scripts, and of the page's that it confuses.
 *
 * @phpstan-import-type Line from SnippetSeen
 */
final class ErrorJudge
{
    private const MOST_LINES = 5;

    /**
     * @param list<Line> $console
     *
     * @return array<string, string> what was thrown on a page, by what stays the same of it from one visit to the next => as it was said, with its place
     */
    public static function thrown(array $console): array
    {
        $errors = [];
        foreach ($console as $line) {
            if ($line['kind'] === 'exception' || ($line['kind'] === 'console' && $line['level'] === 'error')) {
                $errors[(string) preg_replace('/\d+/', '#', $line['text'])] = $line['text'].($line['url'] === '' ? '' : " ({$line['url']}, line {$line['line']})");
            }
        }

        return $errors;
    }

    /**
     * @param array<string, string> $fresh  errors that the control has not, as `thrown()` gives them
     * @param bool                  $isCode whether the variant brings a script of its own
     */
    public static function finding(array $fresh, bool $isCode, string $variant, Screen $screen): ?Finding
    {
        $lines = array_values($fresh);

        return $lines === [] ? null : new Finding(
            CheckCode::ChangeErrors,
            'In “'.$variant.'” the page has '.(count($lines) === 1 ? 'an error' : count($lines).' errors').' in the console that the control has not.',
            $lines[0],
            $isCode ? 'Mend the script of the variant: what it throws after it has run is caught by nobody.' : 'A script of the page stumbles over what the variant changes: see what it looks for there.',
            $variant,
            $screen,
            evidence: ['step' => 'errors', 'lines' => array_slice($lines, 0, self::MOST_LINES)],
            severity: $isCode ? Severity::Blocker : null,
        );
    }
}
