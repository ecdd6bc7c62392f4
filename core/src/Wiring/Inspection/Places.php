<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Wiring\Findings\Finding;

/** Makes findings of drafts at offsets of one text: works out line, column and excerpt, going through the text once. */
final class Places
{
    private const EXCERPT = 160;

    /** So many findings of one code are listed; the last says how many more there are. */
    private const MOST_OF_A_CODE = 100;

    /**
     * @param string      $text   UTF-8
     * @param list<Draft> $drafts
     *
     * @return list<Finding> in the order of the text
     */
    public static function findings(string $text, array $drafts): array
    {
        usort($drafts, static fn (Draft $a, Draft $b): int => [$a->offset, $a->code->value, $a->tag] <=> [$b->offset, $b->code->value, $b->tag]);
        $counts = array_count_values(array_map(static fn (Draft $draft): string => $draft->code->value, $drafts));
        $findings = $listed = [];
        [$at, $line, $column] = [0, 1, 1];
        foreach ($drafts as $draft) {
            $code = $draft->code->value;
            $listed[$code] = ($listed[$code] ?? 0) + 1;
            if ($listed[$code] > self::MOST_OF_A_CODE) {
                continue;
            }
            $between = substr($text, $at, $draft->offset - $at);
            $lines = substr_count($between, "\n");
            $column = $lines === 0 ? $column + mb_strlen($between, 'UTF-8') : mb_strlen(substr($between, (int) strrpos($between, "\n") + 1), 'UTF-8') + 1;
            [$at, $line] = [$draft->offset, $line + $lines];
            $more = $listed[$code] === self::MOST_OF_A_CODE ? $counts[$code] - self::MOST_OF_A_CODE : 0;
            $findings[] = new Finding(
                $draft->code,
                $line,
                $column,
                mb_strcut($text, $draft->offset, self::EXCERPT, 'UTF-8'),
                $draft->message.($more > 0 ? ' There are '.number_format($more).' more of this kind.' : ''),
                $draft->fix,
                $draft->tag,
                null,
                $draft->severity,
            );
        }

        return $findings;
    }
}
