<?php

declare(strict_types=1);

namespace App\Collector;

/** What is kept apart from everything that is counted: a beacon says by a mark in its address that it is of that kind. */
enum Apart: string
{
    case Rehearsal = 'rehearsal';
    case Preview = 'preview';

    /** What a site's own people and machines do. No beacon claims it: the site's rules say so. */
    case Own = 'own';

    /**
     * @param array<mixed> $query of the address that the beacon came to
     *
     * @return array{self, string}|null the kind, and the mark; null where it claims nothing
     */
    public static function claimed(array $query): ?array
    {
        foreach ([self::Rehearsal, self::Preview] as $kind) {
            if (is_string($query[$kind->value] ?? null)) {
                return [$kind, $query[$kind->value]];
            }
        }

        return null;
    }

    public function table(): string
    {
        return "{$this->value}_events";
    }

    /** The column of the table that says of which rehearsal, of which link to a preview, or of which site. */
    public function column(): string
    {
        return match ($this) {
            self::Rehearsal => 'rehearsal_id',
            self::Preview => 'loupe_link_id',
            self::Own => 'site_id',
        };
    }

    /** How long its mark is good for. A page that is previewed may stay open for a while. */
    public function seconds(): int
    {
        return match ($this) {
            self::Rehearsal => 3600,
            self::Preview => 43_200,
            self::Own => 0,
        };
    }
}
