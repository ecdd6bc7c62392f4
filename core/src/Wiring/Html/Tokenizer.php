<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/**
 * Splits an HTML text into tags, texts and comments, as WHATWG HTML, 13.2.5 (Tokenization) does, with the place of each.
 *
 * Whoever reads the tokens says after a start tag how the text that follows is to be read (`rawText()`, `plainText()`), as
 * the tree construction stage does: the tokenizer alone cannot know.
 */
final class Tokenizer
{
    private const SPACE = " \t\n\f\r";

    private int $at = 0;

    private readonly int $length;

    /** The element whose end tag ends the raw text that comes next. */
    private ?string $rawUntil = null;

    private bool $plain = false;

    private bool $foreign = false;

    public function __construct(private readonly string $html)
    {
        $this->length = strlen($html);
    }

    /** The text up to the end tag of this element has no tags and no comments in it. */
    public function rawText(string $element): void
    {
        $this->rawUntil = $element;
    }

    /** Nothing but text comes any more (`<plaintext>`). */
    public function plainText(): void
    {
        $this->plain = true;
    }

    /** Whether `<![CDATA[` begins a CDATA section, as it does inside of svg and math only. */
    public function foreign(bool $foreign): void
    {
        $this->foreign = $foreign;
    }

    /** The next token; null at the end. A tag that the end of the text cuts off is no token (13.2.5.6 and following). */
    public function next(): ?Token
    {
        if ($this->at >= $this->length) {
            return null;
        }
        if ($this->plain) {
            return $this->text($this->length);
        }
        if ($this->rawUntil !== null) {
            $end = $this->rawUntil === 'script' ? $this->endOfScript() : $this->endOfRaw($this->rawUntil, $this->at);
            $this->rawUntil = null;
            if ($end > $this->at) {
                return $this->text($end);
            }
        }
        $from = $this->at;
        while ($from < $this->length) {
            $less = strpos($this->html, '<', $from);
            if ($less === false) {
                return $this->text($this->length);
            }
            if (! $this->opensMarkup($less)) {
                $from = $less + 1;
                continue;
            }
            if ($less > $this->at) {
                return $this->text($less);
            }
            if (substr_compare($this->html, '</>', $less, 3) === 0) {
                // This is nothing at all.
                $this->at = $from = $less + 3;
                continue;
            }

            return $this->markup();
        }

        return $this->at < $this->length ? $this->text($this->length) : null;
    }

    private function text(int $end): Token
    {
        $token = new Token('text', $this->at, $end);
        $this->at = $end;

        return $token;
    }

    private function opensMarkup(int $less): bool
    {
        $next = $this->html[$less + 1] ?? '';

        return ctype_alpha($next) || $next === '!' || $next === '?' || ($next === '/' && $less + 2 < $this->length);
    }

    private function markup(): ?Token
    {
        $next = $this->html[$this->at + 1];
        if ($next === '!') {
            return $this->declaration();
        }
        if ($next === '?') {
            return $this->until('>', $this->at + 1, 'comment');
        }
        if ($next === '/') {
            $first = $this->html[$this->at + 2];

            return ctype_alpha($first) ? $this->tag('end', $this->at + 2) : $this->until('>', $this->at + 2, 'comment');
        }

        return $this->tag('start', $this->at + 1);
    }

    private function declaration(): Token
    {
        $start = $this->at + 2;
        if (substr_compare($this->html, '--', $start, 2) === 0) {
            return $this->comment($start + 2);
        }
        if ($this->foreign && substr_compare($this->html, '[CDATA[', $start, 7) === 0) {
            return $this->until(']]>', $start + 7, 'text');
        }

        return $this->until('>', $start, substr_compare($this->html, 'doctype', $start, 7, true) === 0 ? 'doctype' : 'comment');
    }

    private function comment(int $start): Token
    {
        // `<!-->` and `<!--->` are empty comments (13.2.5.43 and 13.2.5.44).
        foreach (['>', '->'] as $abrupt) {
            if (substr($this->html, $start, strlen($abrupt)) === $abrupt) {
                return $this->cut($start + strlen($abrupt), 'comment');
            }
        }
        $isClosed = preg_match('/--!?>/', $this->html, $m, PREG_OFFSET_CAPTURE, $start) === 1;

        return $this->cut($isClosed ? $m[0][1] + strlen($m[0][0]) : $this->length, 'comment');
    }

    /** @param 'text'|'comment'|'doctype' $type */
    private function until(string $end, int $from, string $type): Token
    {
        $at = strpos($this->html, $end, $from);

        return $this->cut($at === false ? $this->length : $at + strlen($end), $type);
    }

    /** @param 'text'|'comment'|'doctype' $type */
    private function cut(int $end, string $type): Token
    {
        $token = new Token($type, $this->at, $end);
        $this->at = $end;

        return $token;
    }

    /** @param 'start'|'end' $type */
    private function tag(string $type, int $nameAt): ?Token
    {
        $at = $nameAt + strcspn($this->html, self::SPACE.'/>', $nameAt);
        $name = strtolower(substr($this->html, $nameAt, $at - $nameAt));
        $attributes = [];
        $selfClosing = false;
        while (true) {
            $slashes = strspn($this->html, self::SPACE.'/', $at);
            $selfClosing = $slashes > 0 && $this->html[$at + $slashes - 1] === '/';
            $at += $slashes;
            if ($at >= $this->length) {
                $this->at = $this->length;

                return null;
            }
            if ($this->html[$at] === '>') {
                break;
            }
            [$key, $value, $at] = $this->attribute($at);
            if ($at >= $this->length) {
                $this->at = $this->length;

                return null;
            }
            // The first of two attributes with one name counts.
            $attributes[$key] ??= $value;
        }
        $token = new Token($type, $this->at, $at + 1, $name, $type === 'start' ? $attributes : [], $selfClosing);
        $this->at = $at + 1;

        return $token;
    }

    /** @return array{string, string, int} name, value, and the offset after it */
    private function attribute(int $at): array
    {
        // An "=" that comes first belongs to the name (13.2.5.32).
        $length = ($this->html[$at] === '=' ? 1 : 0);
        $length += strcspn($this->html, self::SPACE.'/>=', $at + $length);
        $name = strtolower(substr($this->html, $at, $length));
        $at += $length;
        $after = $at + strspn($this->html, self::SPACE, $at);
        if (($this->html[$after] ?? '') !== '=') {
            return [$name, '', $at];
        }
        $at = $after + 1;
        $at += strspn($this->html, self::SPACE, $at);
        $quote = $this->html[$at] ?? '';
        if ($quote === '"' || $quote === "'") {
            $end = strpos($this->html, $quote, $at + 1);
            if ($end === false) {
                return [$name, '', $this->length];
            }

            return [$name, self::decode(substr($this->html, $at + 1, $end - $at - 1)), $end + 1];
        }
        $length = strcspn($this->html, self::SPACE.'>', $at);

        return [$name, self::decode(substr($this->html, $at, $length)), $at + $length];
    }

    private static function decode(string $text): string
    {
        return str_contains($text, '&') ? html_entity_decode($text, ENT_QUOTES | ENT_HTML5, 'UTF-8') : $text;
    }

    /** Where the end tag of an element stands (13.2.5.9 to 14); the end of the text where there is none. */
    private function endOfRaw(string $element, int $from): int
    {
        while (($at = strpos($this->html, '</', $from)) !== false) {
            if ($this->isTag($at + 2, $element)) {
                return $at;
            }
            $from = $at + 2;
        }

        return $this->length;
    }

    /**
     * Where a script's end tag stands (13.2.5.15 to 31): inside of `<!--` a `<script` must be closed before the
     * `</script` that counts.
     */
    private function endOfScript(): int
    {
        $escaped = $double = false;
        $at = $this->at;
        while ($at < $this->length) {
            $at += strcspn($this->html, '<-', $at);
            if ($escaped && substr_compare($this->html, '-->', $at, 3) === 0) {
                $escaped = $double = false;
                $at += 3;
            } elseif (! $escaped && substr_compare($this->html, '<!--', $at, 4) === 0) {
                $escaped = true;
                // Its two dashes may already be those of the "-->" that ends it.
                $at += 2;
            } elseif (substr_compare($this->html, '</', $at, 2) === 0 && $this->isTag($at + 2, 'script')) {
                if (! $double) {
                    return $at;
                }
                $double = false;
                $at += 8;
            } elseif ($escaped && ! $double && ($this->html[$at] ?? '') === '<' && $this->isTag($at + 1, 'script')) {
                $double = true;
                $at += 7;
            } else {
                $at++;
            }
        }

        return $this->length;
    }

    private function isTag(int $at, string $element): bool
    {
        $length = strlen($element);

        return $at + $length < $this->length
            && substr_compare($this->html, $element, $at, $length, true) === 0
            && strpbrk($this->html[$at + $length], self::SPACE.'/>') !== false;
    }
}
