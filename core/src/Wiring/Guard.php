<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring;

/** The flicker guard: hides the page for a bounded time, so that nobody sees a change happen. */
final class Guard
{
    public const DEFAULT_MILLISECONDS = 1500;

    public const SHORTEST_MILLISECONDS = 500;

    public const LONGEST_MILLISECONDS = 4000;

    /** The times that are offered, the default first. */
    public const OFFERED = [self::DEFAULT_MILLISECONDS, 500, 1000, 2000, 3000, 4000];

    /**
     * The inline text, which stands before the snippet. The runtime shows the page when its changes are made; the snippet
     * does when the runtime cannot be loaded; and the guard itself when the time is over, whatever happened.
     *
     * @param list<string> $selectors of what the running experiments change; the body is hidden where they are not known
     *
     * @throws InvalidWiring
     */
    public static function text(int $milliseconds = self::DEFAULT_MILLISECONDS, array $selectors = []): string
    {
        if ($milliseconds < self::SHORTEST_MILLISECONDS || $milliseconds > self::LONGEST_MILLISECONDS) {
            throw new InvalidWiring('A flicker guard hides the page for 500 to 4000 ms.', 'milliseconds');
        }

        $hidden = json_encode(($selectors === [] ? 'body' : implode(', ', array_unique($selectors))).' { opacity: 0 !important }', JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_HEX_TAG);

        return <<<HTML
            <script data-pellix-guard>
              (function (style) {
                style.textContent = {$hidden};
                document.head.appendChild(style);
                window.pellixShow = function () { style.remove() };
                setTimeout(window.pellixShow, {$milliseconds});
              })(document.createElement("style"));
            </script>
            HTML;
    }
}
