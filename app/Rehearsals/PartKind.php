<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Rehearsals\Parts\AssignmentPart;
use App\Rehearsals\Parts\EntryPart;
use App\Rehearsals\Parts\InstallationPart;
use App\Rehearsals\Parts\LookPart;
use App\Rehearsals\Parts\Part;
use App\Rehearsals\Parts\RedirectPart;
use App\Rehearsals\Parts\ScreensPart;
use App\Rehearsals\Parts\SnippetPart;
use App\Rehearsals\Parts\SpeedPart;
use App\Rehearsals\Parts\WalkPart;
use Pellix\Core\Experiments\DeclaredVariant;

/** The parts that a rehearsal is made of, in their order. */
enum PartKind: string
{
    case Snippet = 'snippet';
    case Entry = 'entry';
    case Assignment = 'assignment';
    case Look = 'look';
    case Redirect = 'redirect';
    case Walk = 'walk';
    case Speed = 'speed';
    case Screens = 'screens';
    case Installation = 'aa-page';

    public function part(): Part
    {
        return match ($this) {
            self::Snippet => new SnippetPart(),
            self::Entry => new EntryPart(),
            self::Assignment => new AssignmentPart(),
            self::Look => new LookPart(),
            self::Redirect => new RedirectPart(),
            self::Walk => new WalkPart(),
            self::Speed => new SpeedPart(),
            self::Screens => new ScreensPart(),
            self::Installation => new InstallationPart(),
        };
    }

    /** @return array<self> those of an experiment's rehearsal */
    public static function ofExperiments(): array
    {
        return array_filter(self::cases(), static fn (self $one): bool => $one !== self::Installation);
    }

    public function isOfVariant(): bool
    {
        return in_array($this, [self::Look, self::Redirect, self::Walk], true);
    }

    public function isFor(?DeclaredVariant $variant): bool
    {
        return $this !== self::Redirect || $variant?->target !== null;
    }

    public function words(?DeclaredVariant $variant): string
    {
        $name = $variant === null ? '' : "“{$variant->name}”";

        return match ($this) {
            self::Snippet => 'The snippet',
            self::Entry => 'Who enters',
            self::Assignment => 'Assignment',
            self::Look => "What {$name} looks like",
            self::Redirect => "Where {$name} leads to",
            self::Walk => "The goals in {$name}",
            self::Speed => 'What the snippet costs',
            self::Screens => 'Variants beside the control',
            self::Installation => 'A page with the snippet and without',
        };
    }
}
