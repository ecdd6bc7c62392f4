<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/** How a browser takes a script element (WHATWG HTML, 4.12.1.1, prepare the script element, steps 8 to 12). */
enum ScriptType
{
    case Classic;
    case Module;
    case Data;

    /** The JavaScript MIME type essence matches of WHATWG MIME Sniffing, 4.6. */
    private const JAVASCRIPT = [
        'application/ecmascript', 'application/javascript', 'application/x-ecmascript', 'application/x-javascript', 'text/ecmascript', 'text/javascript',
        'text/javascript1.0', 'text/javascript1.1', 'text/javascript1.2', 'text/javascript1.3', 'text/javascript1.4', 'text/javascript1.5',
        'text/jscript', 'text/livescript', 'text/x-ecmascript', 'text/x-javascript',
    ];

    public static function of(Node $script): self
    {
        $type = $script->attribute('type');
        $language = $script->svg ? null : $script->attribute('language');
        $named = match (true) {
            $type !== null => $type === '' ? 'text/javascript' : strtolower(trim($type, " \t\n\f\r")),
            $language !== null && $language !== '' => 'text/'.strtolower($language),
            default => 'text/javascript',
        };

        return match (true) {
            in_array($named, self::JAVASCRIPT, true) => self::Classic,
            $named === 'module' => self::Module,
            default => self::Data,
        };
    }
}
