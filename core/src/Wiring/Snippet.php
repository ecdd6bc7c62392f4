<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring;

/** The code that a specialist puts on every page of a site. */
final class Snippet
{
    /** The address of the file that a snippet loads, as far as its path: `/s/plx_….js`. */
    public const FILE = '~/s/(plx_[a-z0-9]{16})\.js(?![a-z0-9_])~';

    /**
     * The loader. It queues calls until the runtime has come, holds nothing up and asks for one file.
     *
     * @param string $site   site key
     * @param string $origin scheme, host and port that Pellix is served from
     */
    public static function loader(string $site, string $origin): string
    {
        $source = json_encode(rtrim($origin, '/')."/s/{$site}.js", JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_HEX_TAG);

        return <<<HTML
            <script data-pellix="{$site}">
              window.pellix = window.pellix || function () { window.pellix.waiting.push(arguments) };
              window.pellix.waiting = window.pellix.waiting || [];
              (function (script) {
                script.async = true;
                script.src = {$source};
                script.onerror = window.pellixShow;
                document.head.appendChild(script);
              })(document.createElement("script"));
            </script>
            HTML;
    }
}
