<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Wiring\Guard;
use Pellix\Core\Wiring\Html\Node;
use Pellix\Core\Wiring\Html\Script;

/** One place on a page where a flicker guard stands. */
final readonly class GuardCopy
{
    /**
     * @param string|null $damage what keeps it from doing what it should
     * @param string|null $style  the style sheet that it makes, where that can be read
     */
    private function __construct(public Node $node, public ?string $damage, public ?string $style)
    {
    }

    /** The guard that a script element is; null for any other script. */
    public static function of(Node $node): ?self
    {
        $isMarked = $node->attribute('data-pellix-guard') !== null;
        if (! $isMarked && ($node->attribute('data-pellix') !== null || preg_match('/pellixShow\s*=(?!=)\s*function/', $node->text) !== 1)) {
            return null;
        }
        $script = new Script($node);
        $given = (string) preg_replace('~\A<script[^>]*>|</script>\z~', '', Guard::text());
        $same = SameCode::compare($given, $node->text, ['style'], static fn (string $a, string $b): bool => match (true) {
            str_contains($a, 'opacity') => preg_match('/\{\s*opacity:\s*0\s*!important;?\s*\}\s*\z/', $b) === 1,
            $a === (string) Guard::DEFAULT_MILLISECONDS => ctype_digit($b) && (int) $b >= Guard::SHORTEST_MILLISECONDS && (int) $b <= Guard::LONGEST_MILLISECONDS,
            default => false,
        });
        // A script that nobody marked is one only where it does the same.
        if (! $isMarked && $same === SameCode::OTHER) {
            return null;
        }
        $style = array_values(array_filter(CodeTokens::of($node->text) ?? [], static fn (array $token): bool => $token[0] === 'string' && str_contains($token[1], 'opacity')))[0][1] ?? null;
        $damage = $script->neverRuns() ?? match (true) {
            ! $script->runs() => 'It does not run as it stands: its type or its address keeps it from that.',
            $same === SameCode::OTHER => SameCode::isCutOff($given, $node->text) ? 'It is cut off.' : 'It no longer does what it did when Pellix gave it out.',
            default => null,
        };

        return new self($node, $damage, $style);
    }
}
