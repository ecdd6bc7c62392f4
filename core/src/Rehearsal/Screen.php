<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/** The screens that a rehearsal is held on: width and height in CSS pixels. */
enum Screen: string
{
    case Desktop = 'desktop';
    case Tablet = 'tablet';
    case Mobile = 'mobile';

    public function width(): int
    {
        return match ($this) {
            self::Desktop => 1280,
            self::Tablet => 820,
            self::Mobile => 390,
        };
    }

    public function height(): int
    {
        return match ($this) {
            self::Desktop => 800,
            self::Tablet => 1180,
            self::Mobile => 844,
        };
    }

    public function label(): string
    {
        return match ($this) {
            self::Desktop => 'Desk',
            self::Tablet => 'Tablet',
            self::Mobile => 'Phone',
        }." {$this->width()} × {$this->height()}";
    }

    public function isMobile(): bool
    {
        return $this !== self::Desktop;
    }

    /** What the browser says of itself there: a device of that size of the same browser's. */
    public function agent(string $desktop): string
    {
        return match ($this) {
            self::Desktop => $desktop,
            self::Tablet => (string) preg_replace('/\((?:X11|Windows|Macintosh)[^)]*\)/', '(Linux; Android 10; K)', $desktop),
            self::Mobile => str_replace(' Safari/', ' Mobile Safari/', (string) preg_replace('/\((?:X11|Windows|Macintosh)[^)]*\)/', '(Linux; Android 10; K)', $desktop)),
        };
    }
}
