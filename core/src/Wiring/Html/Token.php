<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/** One token of an HTML text. Offsets are in bytes; `$end` is the first byte after it. */
final readonly class Token
{
    /**
     * @param 'start'|'end'|'text'|'comment'|'doctype' $type
     * @param string                                   $name       tag name in lower case; '' for the others
     * @param array<string, string>                    $attributes of a start tag: names in lower case, character references decoded
     */
    public function __construct(
        public string $type,
        public int $offset,
        public int $end,
        public string $name = '',
        public array $attributes = [],
        public bool $selfClosing = false,
    ) {
    }
}
