<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

/** What speaks against a plan. */
enum Caution: string
{
    case TooQuiet = 'too-quiet';
    case LongRun = 'long-run';
    case UnderAWeek = 'under-a-week';
    case ThreeDays = 'three-days';
    case NotWholeWeeks = 'not-whole-weeks';
    case TooShort = 'too-short';
    case ManyVariants = 'many-variants';
    case RareGoal = 'rare-goal';
    case OneSide = 'one-side';
}
