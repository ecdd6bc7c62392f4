<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** Where a rule is evaluated; not every fact is known everywhere. */
enum Place: string
{
    /** An address alone: page rules, groups of pages. */
    case Page = 'page';

    /** A visitor's browser, when a page is viewed: audiences. */
    case Browser = 'browser';

    /** A visitor's browser, when something happens on a page: triggers. */
    case Happening = 'happening';

    /** An event that was received: goals. */
    case RecordedEvent = 'recorded-event';

    /** As it stands in a complaint: "is not known …". */
    public function words(): string
    {
        return match ($this) {
            self::Page => 'of an address alone',
            self::Browser => 'when a page is viewed',
            self::Happening => 'when something happens on a page',
            self::RecordedEvent => 'of a recorded event',
        };
    }
}
