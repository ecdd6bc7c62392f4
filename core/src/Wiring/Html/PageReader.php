<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/**
 * Tells where the elements of a page end up, by the rules of WHATWG HTML, 13.2.6 (Tree construction), with scripting on.
 *
 * No tree is built: an inspection needs to know what is in the head, what in the body, and what never takes effect. The
 * rules for tables, lists and formatting move elements within the body only, and are left out.
 */
final class PageReader
{
    /** What may stand in a head (13.2.6.4.4); anything else ends it. */
    private const IN_HEAD = ['base', 'basefont', 'bgsound', 'link', 'meta', 'noframes', 'noscript', 'script', 'style', 'template', 'title'];

    /** Elements whose content is text (13.2.6.4.4 and 7); `noscript` is one of them because scripting is on. */
    private const RAW = ['script', 'style', 'title', 'textarea', 'xmp', 'iframe', 'noembed', 'noframes', 'noscript'];

    /** Start tags that end svg and math (13.2.6.5), but for `font`. */
    private const BREAKOUT = [
        'b', 'big', 'blockquote', 'body', 'br', 'center', 'code', 'dd', 'div', 'dl', 'dt', 'em', 'embed', 'h1', 'h2', 'h3', 'h4', 'h5', 'h6',
        'head', 'hr', 'i', 'img', 'li', 'listing', 'menu', 'meta', 'nobr', 'ol', 'p', 'pre', 'ruby', 's', 'small', 'span', 'strong', 'strike',
        'sub', 'sup', 'table', 'tt', 'u', 'ul', 'var',
    ];

    /** Elements of svg and math whose content is HTML again. */
    private const INTEGRATION = ['foreignobject', 'desc', 'title', 'mi', 'mo', 'mn', 'ms', 'mtext', 'annotation-xml'];

    private readonly Tokenizer $tokens;

    /** @var 'before'|'head'|'after-head'|'body' */
    private string $mode = 'before';

    private int $templates = 0;

    /** @var list<string> open elements of svg and math, innermost last; `#html` where HTML stands inside of them */
    private array $foreign = [];

    private function __construct(private readonly string $html)
    {
        $this->tokens = new Tokenizer($html);
    }

    /**
     * @param string $html UTF-8
     *
     * @return \Generator<int, Node> in the order of the text
     */
    public static function nodes(string $html): \Generator
    {
        return (new self($html))->read();
    }

    /** @return \Generator<int, Node> */
    private function read(): \Generator
    {
        while (($token = $this->tokens->next()) !== null) {
            $node = match ($token->type) {
                'start' => $this->start($token),
                'end' => $this->end($token),
                'text' => $this->text($token),
                'comment' => new Node('#comment', $this->place(), $this->inside(), $token->offset, [], $this->slice($token)),
                default => null,
            };
            if ($node !== null) {
                yield $node;
            }
        }
    }

    private function start(Token $token): ?Node
    {
        if ($this->inForeign() && $this->startForeign($token)) {
            return new Node($token->name, $this->place(), $this->inside(), $token->offset, $token->attributes, $token->name === 'script' ? $this->rest($token) : '');
        }
        $place = $this->placeOf($token->name);
        if ($place === null) {
            return null;
        }
        if ($token->name === 'template') {
            $this->templates++;
        }
        if (in_array($token->name, ['svg', 'math'], true) && ! $token->selfClosing) {
            $this->foreign[] = $token->name;
            $this->tokens->foreign(true);
        }
        $inside = $token->name === 'template' && $this->templates === 1 ? null : $this->inside();
        if ($token->name === 'plaintext') {
            $this->tokens->plainText();
        }
        $text = '';
        if (in_array($token->name, self::RAW, true)) {
            $this->tokens->rawText($token->name);
            $next = $this->tokens->next();
            if ($next !== null && $next->type === 'text') {
                $text = $this->slice($next);
            } elseif ($next !== null && $next->type !== 'end') {
                throw new \LogicException('Raw text is followed by its end tag or by the end.');
            }
        }

        return new Node($token->name, $place, $inside, $token->offset, $token->attributes, $text);
    }

    /**
     * Where a start tag puts its element, moving on to the mode that it brings; null where it is ignored.
     *
     * @return 'head'|'body'|null
     */
    private function placeOf(string $name): ?string
    {
        if ($this->templates > 0) {
            return $this->place();
        }
        if ($name === 'html') {
            return null;
        }
        if ($name === 'head') {
            $this->mode = $this->mode === 'before' ? 'head' : $this->mode;

            return null;
        }
        if ($this->mode === 'body') {
            return $name === 'body' ? null : 'body';
        }
        if (in_array($name, self::IN_HEAD, true) && ! ($this->mode === 'after-head' && $name === 'noscript')) {
            // Between head and body, what belongs in a head is still put into it.
            $this->mode = $this->mode === 'before' ? 'head' : $this->mode;

            return 'head';
        }
        $this->mode = 'body';

        return $name === 'body' ? null : 'body';
    }

    private function end(Token $token): null
    {
        if ($this->foreign !== [] && $this->endForeign($token->name)) {
            return null;
        }
        if ($token->name === 'template') {
            $this->templates = max(0, $this->templates - 1);
        } elseif ($this->templates > 0) {
            return null;
        } elseif ($token->name === 'head' && in_array($this->mode, ['before', 'head'], true)) {
            $this->mode = 'after-head';
        } elseif (in_array($token->name, ['body', 'html', 'br'], true)) {
            $this->mode = 'body';
        }

        return null;
    }

    private function text(Token $token): Node
    {
        $text = $this->slice($token);
        // A word ends the head; white space does not.
        if ($this->templates === 0 && trim($text, " \t\n\f\r") !== '') {
            $this->mode = 'body';
        }

        return new Node('#text', $this->place(), $this->inside(), $token->offset, [], $text);
    }

    private function inForeign(): bool
    {
        return $this->foreign !== [] && end($this->foreign) !== '#html';
    }

    /** Whether a start tag inside of svg or math stays there. */
    private function startForeign(Token $token): bool
    {
        $breaksOut = in_array($token->name, self::BREAKOUT, true)
            || ($token->name === 'font' && array_intersect(['color', 'face', 'size'], array_keys($token->attributes)) !== []);
        if ($breaksOut) {
            while ($this->inForeign()) {
                array_pop($this->foreign);
            }
            $this->tokens->foreign($this->inForeign());

            return false;
        }
        if (! $token->selfClosing) {
            $this->foreign[] = $token->name;
            if (in_array($token->name, self::INTEGRATION, true)) {
                $this->foreign[] = '#html';
            }
            $this->tokens->foreign($this->inForeign());
        }

        return true;
    }

    private function endForeign(string $name): bool
    {
        $at = array_search($name, array_reverse($this->foreign, true), true);
        if ($at === false) {
            return false;
        }
        $this->foreign = array_slice($this->foreign, 0, (int) $at);
        $this->tokens->foreign($this->inForeign());

        return true;
    }

    /** The content of a script inside of svg, where it is no raw text: up to the next tag. */
    private function rest(Token $token): string
    {
        return substr($this->html, $token->end, strcspn($this->html, '<', $token->end));
    }

    private function slice(Token $token): string
    {
        return substr($this->html, $token->offset, $token->end - $token->offset);
    }

    /** @return 'head'|'body' */
    private function place(): string
    {
        return $this->mode === 'body' ? 'body' : 'head';
    }

    private function inside(): ?string
    {
        return $this->templates > 0 ? 'template' : null;
    }
}
