<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

/** The events that the runtime itself sends, with what their properties are. Sites send events of any other names. */
enum EventName: string
{
    case PageView = 'page_view';
    case Exposure = 'exposure';
    case ChangeApplied = 'change_applied';
    case ChangeMissed = 'change_missed';
    case ChangeReverted = 'change_reverted';
    case ChangeFailed = 'change_failed';
    case Click = 'click';
    case FormSubmit = 'form_submit';
    case Scroll = 'scroll';
    case Engaged = 'engaged';
    case AreaSeen = 'area_seen';
    case TagFired = 'tag_fired';

    public function label(): string
    {
        return match ($this) {
            self::PageView => 'A page was looked at',
            self::Exposure => 'A unit was given its variant of an experiment, and met it',
            self::ChangeApplied => 'Every change of a variant was made',
            self::ChangeMissed => 'Elements for changes never appeared',
            self::ChangeReverted => 'The page took changes back as often as they were made',
            self::ChangeFailed => 'A change ran into an error',
            self::Click => 'Something was clicked',
            self::FormSubmit => 'A form was sent',
            self::Scroll => 'So much of the page was scrolled to',
            self::Engaged => 'So many seconds were spent with the page',
            self::AreaSeen => 'A part of the page that a goal names was seen',
            self::TagFired => 'A tag was put onto the page',
        };
    }

    /** @return array<string, mixed> JSON Schema 2020-12 of the properties */
    public function schema(): array
    {
        $text = ['type' => 'string'];
        $number = ['type' => 'number'];
        [$properties, $required] = match ($this) {
            self::PageView => [['storage' => ['enum' => ['none']], 'entry_referrer' => $text, 'redirect' => $text], []],
            self::Exposure => [['experiment' => $text, 'variant' => $text, 'bucket' => ['type' => 'integer', 'minimum' => 0, 'maximum' => 9999], 'unit' => ['enum' => ['user']]], ['experiment', 'variant', 'bucket']],
            self::ChangeApplied => [['experiment' => $text, 'variant' => $text], ['experiment', 'variant']],
            self::ChangeMissed => [['experiment' => $text, 'variant' => $text, 'selectors' => ['type' => 'array', 'items' => $text]], ['experiment', 'variant', 'selectors']],
            self::ChangeReverted => [['experiment' => $text, 'variant' => $text, 'selectors' => ['type' => 'array', 'items' => $text], 'times' => $number], ['experiment', 'variant', 'selectors', 'times']],
            self::ChangeFailed => [['experiment' => $text, 'variant' => $text, 'change' => $number, 'message' => $text], ['experiment', 'variant', 'change', 'message']],
            self::Click => [['path' => $text, 'href' => $text], ['path']],
            self::FormSubmit => [['path' => $text, 'action' => $text, 'method' => $text], ['path']],
            self::Scroll => [['percent' => $number, 'view' => $text], ['percent']],
            self::Engaged => [['seconds' => $number, 'view' => $text], ['seconds']],
            self::AreaSeen => [['area' => $text], ['area']],
            self::TagFired => [['tag' => $text, 'version' => $number, 'why' => $text], ['tag']],
        };

        return ['type' => 'object', 'properties' => $properties, 'required' => $required];
    }
}
