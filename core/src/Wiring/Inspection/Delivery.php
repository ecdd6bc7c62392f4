<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Wiring\Findings\Finding;

use Pellix\Core\Wiring\Findings\FindingCode;

/** How a page came: what a server answered to its address. */
final readonly class Delivery
{
    /**
     * @param string       $asked       the address that was asked for
     * @param string       $given       the address that answered in the end
     * @param int          $status      HTTP status
     * @param string       $contentType of the answer
     * @param list<string> $policies    Content-Security-Policy headers
     * @param string       $body        bytes
     */
    public function __construct(
        public string $asked,
        public string $given,
        public int $status,
        public string $contentType,
        public array $policies,
        public string $body,
    ) {
    }

    /** The charset that the Content-Type header names. */
    public function charset(): ?string
    {
        return preg_match('/;\s*charset\s*=\s*"?([^\s;"]+)/i', $this->contentType, $m) === 1 ? $m[1] : null;
    }

    /** Whether browsers read it as XML. */
    public function isXml(): bool
    {
        return preg_match('~\A\s*application/xhtml\+xml\b~i', $this->contentType) === 1;
    }

    /** @return list<Finding> what can be said before the page itself is looked at */
    public function findings(): array
    {
        $findings = [];
        if ($this->given !== $this->asked) {
            $findings[] = self::finding(FindingCode::PageRedirected, $this->given, 'The address leads on to another one, and that is the page that was inspected.', 'Use the address that visitors end up on in page rules and lists.');
        }
        if ($this->status >= 400) {
            $findings[] = self::finding(FindingCode::PageUnreachable, $this->given, "The server answered {$this->status} instead of the page.", 'Check the address, and whether the page is open to everybody.');
        } elseif (preg_match('~\A\s*(text/html|application/xhtml\+xml)\b~i', $this->contentType) !== 1) {
            $findings[] = self::finding(FindingCode::PageNotHtml, $this->given, "The server sends this as “{$this->contentType}”, which browsers do not show as a page.", 'Check the address, or have the server send text/html.');
        }

        return $findings;
    }

    /** A page of a redirect variant that the sitemap names, so that people get in without being assigned. */
    public static function listed(string $url): Finding
    {
        return self::finding(FindingCode::VariantLinked, $url, 'The sitemap lists this page of a variant: whoever finds it in a search gets in without being assigned.', 'Take it out of the sitemap, and mark it as not to be indexed.');
    }

    public static function unreachable(string $url, string $why): Finding
    {
        return self::finding(FindingCode::PageUnreachable, $url, "The page could not be fetched: {$why}", 'Check the address, and whether the server can be reached from here.');
    }

    public static function tooCostly(string $url): Finding
    {
        return self::finding(FindingCode::PageTooCostly, $url, 'Inspecting this page took more time or memory than one page may have, and was given up.', 'Look at what the page holds: it may be broken, or made to be costly.');
    }

    private static function finding(FindingCode $code, string $url, string $message, string $fix): Finding
    {
        return new Finding($code, 1, 1, $url, $message, $fix);
    }
}
