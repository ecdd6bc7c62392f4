<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

/** What a variant can do to a page. */
enum ChangeKind: string
{
    case Text = 'text';
    case Html = 'html';
    case Attribute = 'attribute';
    case Style = 'style';
    case Classes = 'class';
    case Hide = 'hide';
    case Remove = 'remove';
    case Move = 'move';
    case Insert = 'insert';
    case Sheet = 'sheet';
    case Script = 'script';

    public function label(): string
    {
        return match ($this) {
            self::Text => 'Text',
            self::Html => 'HTML inside',
            self::Attribute => 'Attribute',
            self::Style => 'Style',
            self::Classes => 'Classes',
            self::Hide => 'Hide',
            self::Remove => 'Remove',
            self::Move => 'Move',
            self::Insert => 'Insert HTML',
            self::Sheet => 'Style sheet',
            self::Script => 'Script',
        };
    }

    /** Whether it changes elements that a selector finds; the others belong to the page as a whole. */
    public function hasSelector(): bool
    {
        return $this !== self::Sheet && $this !== self::Script;
    }

    /** @return list<string> what it takes beside the selector */
    public function members(): array
    {
        return match ($this) {
            self::Text, self::Html, self::Sheet, self::Script => ['value'],
            self::Attribute => ['attribute', 'value'],
            self::Style => ['property', 'value'],
            self::Classes => ['add', 'remove'],
            self::Move => ['place', 'to'],
            self::Insert => ['place', 'value'],
            self::Hide, self::Remove => [],
        };
    }

    /** Whether it puts somebody's code onto the page, which can do there whatever the page can. */
    public function isCode(): bool
    {
        return in_array($this, [self::Html, self::Insert, self::Script], true);
    }
}
