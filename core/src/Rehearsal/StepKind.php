<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/** What a visitor does in a rehearsal, or what is looked for. */
enum StepKind: string
{
    case Open = 'open';
    case Follow = 'follow';
    case Click = 'click';
    case Type = 'type';
    case Choose = 'choose';
    case Submit = 'submit';
    case Scroll = 'scroll';
    case Hover = 'hover';
    case Wait = 'wait';
    case Back = 'back';
    case Reload = 'reload';
    case NewTab = 'new-tab';
    case ClearCookies = 'clear-cookies';
    case Consent = 'consent';
    case Expect = 'expect';

    public function label(): string
    {
        return match ($this) {
            self::Open => 'Open a page',
            self::Follow => 'Go on to',
            self::Click => 'Click',
            self::Type => 'Type',
            self::Choose => 'Choose',
            self::Submit => 'Send a form',
            self::Scroll => 'Scroll',
            self::Hover => 'Point at',
            self::Wait => 'Wait',
            self::Back => 'Go back',
            self::Reload => 'Load again',
            self::NewTab => 'New tab',
            self::ClearCookies => 'Clear cookies',
            self::Consent => 'Give or refuse consent',
            self::Expect => 'Expect',
        };
    }

    /** Whether it can be done only to an element. */
    public function needsElement(): bool
    {
        return in_array($this, [self::Click, self::Type, self::Choose, self::Submit, self::Hover], true);
    }
}
