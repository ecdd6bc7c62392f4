<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

/** What became of a finding of which somebody has said something: the audits after it confirm or contradict that. */
enum Standing: string
{
    case Open = 'open';
    /** Somebody has said why it is as it is, and that is still so. */
    case Explained = 'explained';
    /** The explanation has ended. */
    case Expired = 'expired';
    /** Declared mended; no audit has looked since. */
    case Declared = 'declared';
    /** It ended about when it was declared mended. */
    case Mended = 'mended';
    /** It goes on, though it was declared mended. */
    case Contradicted = 'contradicted';

    /** What happens so long after it was declared mended may still come of pages that visitors had open (common practice, no source). */
    private const GRACE = 6 * 3_600_000;

    /**
     * @param 'explained'|'mended' $said
     * @param int                  $at      when, in milliseconds
     * @param int|null             $end     when an explanation ends
     * @param int                  $last    last moment that the audit looked at
     * @param int|null             $until   end of the finding; null where it goes on
     */
    public static function of(string $said, int $at, ?int $end, int $last, ?int $until): self
    {
        if ($said === 'explained') {
            return $end !== null && $last > $end ? self::Expired : self::Explained;
        }

        return match (true) {
            $last <= $at + self::GRACE => self::Declared,
            $until !== null && $until <= $at + self::GRACE => self::Mended,
            default => self::Contradicted,
        };
    }
}
