<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/**
 * Tells where the elements of a page end up, by the rules of WHATWG HTML, 13.2.6 (Tree construction), with scripting on.
 *
 * No tree is built: an inspection needs to know what is in the head, what in the body, and what never takes effect. So the
 * stack of open elements is kept, as far as it decides that; where tables and formatting move elements within the body is not.
 */
final class PageReader
{
    /** What may stand in a head (13.2.6.4.4); anything else ends it. */
    private const IN_HEAD = ['base', 'basefont', 'bgsound', 'link', 'meta', 'noframes', 'noscript', 'script', 'style', 'template', 'title'];

    /** Elements whose content is text (13.2.6.4.4 and 7); `noscript` is one of them because scripting is on. */
    private const RAW = ['script', 'style', 'title', 'textarea', 'xmp', 'iframe', 'noembed', 'noframes', 'noscript'];

    /** Elements that cannot have content, and are closed at once. */
    private const VOID = ['area', 'base', 'basefont', 'bgsound', 'br', 'col', 'embed', 'frame', 'hr', 'img', 'image', 'input', 'keygen', 'link', 'meta', 'param', 'source', 'track', 'wbr'];

    /** Start tags that end svg and math (13.2.6.5), but for `font`. */
    private const BREAKOUT = [
        'b', 'big', 'blockquote', 'body', 'br', 'center', 'code', 'dd', 'div', 'dl', 'dt', 'em', 'embed', 'h1', 'h2', 'h3', 'h4', 'h5', 'h6',
        'head', 'hr', 'i', 'img', 'li', 'listing', 'menu', 'meta', 'nobr', 'ol', 'p', 'pre', 'ruby', 's', 'small', 'span', 'strong', 'strike',
        'sub', 'sup', 'table', 'tt', 'u', 'ul', 'var',
    ];

    /** Elements of math, and of svg, whose content is HTML again (13.2.6.5, "integration point"). */
    private const MATH_TEXT = ['mi', 'mo', 'mn', 'ms', 'mtext'];
    private const SVG_HTML = ['foreignobject', 'desc', 'title'];

    /** Start tags that close an open `p`, and end tags that close what is in scope (13.2.6.4.7). */
    private const BLOCKS = [
        'address', 'article', 'aside', 'blockquote', 'center', 'details', 'dialog', 'dir', 'div', 'dl', 'fieldset', 'figcaption', 'figure', 'footer', 'form',
        'header', 'hgroup', 'listing', 'main', 'menu', 'nav', 'ol', 'pre', 'search', 'section', 'summary', 'ul',
    ];

    /** What an end tag may leave out (13.2.6.3). */
    private const IMPLIED = ['dd', 'dt', 'li', 'optgroup', 'option', 'p', 'rb', 'rp', 'rt', 'rtc'];

    private const HEADINGS = ['h1', 'h2', 'h3', 'h4', 'h5', 'h6'];
    private const FORMATTING = ['a', 'b', 'big', 'code', 'em', 'font', 'i', 'nobr', 's', 'small', 'strike', 'strong', 'tt', 'u'];
    private const OF_TABLES = ['caption', 'colgroup', 'tbody', 'tfoot', 'thead', 'tr', 'td', 'th'];

    /** Start tags after which a frameset can no more take the place of the body (13.2.6.4.7, "frameset-ok flag"). */
    private const SETTLES = [
        'body', 'li', 'dd', 'dt', 'pre', 'listing', 'button', 'applet', 'marquee', 'object', 'table', 'area', 'br', 'embed', 'img', 'image', 'keygen', 'wbr', 'hr',
        'textarea', 'xmp', 'iframe', 'select',
    ];

    /** Elements that can hold a shadow root (DOM, 4.8, "attach a shadow root"), beside custom elements. */
    private const HOSTS = ['article', 'aside', 'blockquote', 'body', 'div', 'footer', 'h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'header', 'main', 'nav', 'p', 'section', 'span'];

    /** Names with a hyphen that are no custom elements (HTML, 4.13.3, "valid custom element name"). */
    private const RESERVED = ['annotation-xml', 'color-profile', 'font-face', 'font-face-src', 'font-face-uri', 'font-face-format', 'font-face-name', 'missing-glyph'];

    private readonly Tokenizer $tokens;

    private readonly OpenElements $open;

    /** @var 'before'|'head'|'after-head'|'body'|'frameset'|'after-frameset' */
    private string $mode = 'before';

    /** Templates that are open and inert. */
    private int $inert = 0;

    /** @var array<int, true> depth of open templates that are declarative shadow roots, and so take effect */
    private array $shadows = [];

    /** @var array<int, true> depth of open elements that have a shadow root */
    private array $hosts = [];

    /** @var array<int, array{bool, 'html'|'text'|''}> depth of open elements of svg and math => whether of svg, and what their content is */
    private array $foreign = [];

    /** @var array<int, bool> depth of open templates => whether they began with columns of a table */
    private array $columns = [];

    private bool $mayBeFrameset = true;

    /** @var array<int, array{Token, list<string>}> depth of open scripts of svg => their tag and texts */
    private array $scripts = [];

    /** @var list<Node> scripts of svg that were closed by something else than their end tag */
    private array $cutOff = [];

    private function __construct(private readonly string $html)
    {
        $this->tokens = new Tokenizer($html);
        $this->open = new OpenElements();
    }

    /**
     * @param string $html UTF-8
     *
     * @return \Generator<int, Node> in the order of the text; but scripts of svg where they end
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
            if ($this->cutOff !== []) {
                yield from $this->cutOff;
                $this->cutOff = [];
            }
        }
        $this->closeTo(0);
        yield from $this->cutOff;
    }

    private function start(Token $token): ?Node
    {
        return $this->isForeign($token) && $this->staysForeign($token) ? $this->startForeign($token) : $this->startHtml($token);
    }

    private function startHtml(Token $token): ?Node
    {
        $name = $token->name;
        if ($name === 'input' && strtolower($token->attributes['type'] ?? '') !== 'hidden') {
            $this->mayBeFrameset = false;
        }
        if ($this->isAmongColumns($name) || ! $this->leadsOn($name)) {
            // A script that a frameset leaves no place for is still one that somebody meant to run.
            return $name === 'script' && in_array($this->mode, ['frameset', 'after-frameset'], true)
                ? new Node($name, 'body', 'frameset', $token->offset, $token->attributes, $this->rest($token), false) : null;
        }
        $place = $this->place();
        $isShadow = $name === 'template' && $this->isShadowRoot($token);
        $inside = $this->inside();
        if (in_array($name, self::RAW, true)) {
            return $this->raw($token, $place, $inside);
        }
        if ($name === 'plaintext') {
            $this->tokens->plainText();
        } elseif (in_array($name, ['svg', 'math'], true)) {
            $token->selfClosing || $this->openForeign($name, $name === 'svg', '');
        } elseif (! in_array($name, self::VOID, true) && $this->makeRoom($name) && $this->open->push($name) && $name === 'template') {
            if ($isShadow) {
                $this->hosts[$this->open->depth() - 2] = true;
                $this->shadows[$this->open->depth() - 1] = true;
            } else {
                $this->inert++;
            }
        }
        $this->tokens->foreign($this->isInForeign());

        return new Node($name, $place, $inside, $token->offset, $token->attributes);
    }

    /** Whether a template began with columns of a table, which leave no place for anything else (13.2.6.4.12 and 22). */
    private function isAmongColumns(string $name): bool
    {
        $top = $this->open->depth() - 1;
        if ($this->open->top() !== 'template' || in_array($name, ['html', 'head', 'body'], true)) {
            return false;
        }
        if (! in_array($name, self::IN_HEAD, true)) {
            $this->columns[$top] ??= $name === 'col';
        }

        return ($this->columns[$top] ?? false) && ! in_array($name, ['col', 'template'], true);
    }

    /**
     * An element whose content is text, up to its end tag.
     *
     * @param 'head'|'body' $place
     */
    private function raw(Token $token, string $place, ?string $inside): Node
    {
        $this->tokens->rawText($token->name);
        $next = $this->tokens->next();
        $text = '';
        $isClosed = $next?->type === 'end';
        if ($next?->type === 'text') {
            $text = $this->slice($next);
            $isClosed = $next->end < strlen($this->html);
        }

        return new Node($token->name, $place, $inside, $token->offset, $token->attributes, $text, $isClosed);
    }

    /** Moves on to the mode that a start tag brings; false where the tag is ignored. */
    private function leadsOn(string $name): bool
    {
        if ($name === 'html' || ($this->open->isOpen('template') && in_array($name, ['head', 'body'], true))) {
            return false;
        }
        if (in_array($this->mode, ['frameset', 'after-frameset'], true)) {
            if ($this->mode === 'frameset' && $name === 'frameset') {
                return true;
            }

            return $name === 'noframes' || ($name === 'frame' && $this->mode === 'frameset');
        }
        if (! $this->open->isOpen('template') && $this->mode !== 'body') {
            if ($name === 'head') {
                $this->mode === 'before' && $this->toHead();

                return false;
            }
            if (in_array($name, self::IN_HEAD, true) && ! ($this->mode === 'after-head' && $name === 'noscript')) {
                // Between head and body, what belongs in a head is still put into it.
                $this->mode === 'before' && $this->toHead();

                return true;
            }
            if ($name === 'frameset') {
                $this->toFrameset();

                return true;
            }
            $this->toBody();
            $this->mayBeFrameset = $this->mayBeFrameset && $name !== 'body';

            if ($name === 'body') {
                return false;
            }
        }

        return $this->staysInBody($name);
    }

    /** Whether a start tag of the body is taken (13.2.6.4.7), and what it closes. */
    private function staysInBody(string $name): bool
    {
        if ($name === 'frameset') {
            if ($this->mayBeFrameset && $this->open->at(1) === 'body' && ! $this->open->isOpen('template')) {
                $this->toFrameset();

                return true;
            }

            return false;
        }
        if (in_array($name, self::SETTLES, true)) {
            $this->mayBeFrameset = false;
        }
        $isOfTable = in_array($name, self::OF_TABLES, true) || $name === 'col';

        return ! in_array($name, ['head', 'body', 'frame'], true) && (! $isOfTable || $this->open->last('table', 'template') >= 0);
    }

    /** Closes what an element cannot stand in. */
    private function makeRoom(string $name): bool
    {
        $close = match (true) {
            $name === 'p' || in_array($name, self::BLOCKS, true) || in_array($name, self::HEADINGS, true) => $this->inButtonScope('p'),
            $name === 'li' => $this->open->last('li') > $this->open->last('ul', 'ol', '#barrier') ? $this->open->last('li') : -1,
            $name === 'dd' || $name === 'dt' => $this->open->last('dd', 'dt') > $this->open->last('dl', '#barrier') ? $this->open->last('dd', 'dt') : -1,
            $name === 'button' => $this->open->inScope('button'),
            $name === 'a' || $name === 'nobr' => $this->open->withinSpecial($name),
            $name === 'option' => $this->open->top() === 'option' ? $this->open->depth() - 1 : -1,
            $name === 'table' => $this->open->last('table') > $this->open->last('td', 'th', 'caption', 'template') ? $this->open->last('table') : -1,
            default => -1,
        };
        if ($close >= 0) {
            $this->closeTo($close);
        }
        $table = $this->open->last('table');
        if (in_array($name, self::OF_TABLES, true) && $table > $this->open->last('template')) {
            $within = match ($name) {
                'td', 'th' => $this->open->last('tr', 'tbody', 'thead', 'tfoot', 'table'),
                'tr' => $this->open->last('tbody', 'thead', 'tfoot', 'table'),
                default => $table,
            };
            $this->closeTo(max($within, $table) + 1);
        }
        if ($name === 'select' && $this->open->inScope('select') >= 0) {
            $this->closeTo($this->open->inScope('select'));

            return false;
        }

        return true;
    }

    private function end(Token $token): ?Node
    {
        if ($this->isInForeign()) {
            $top = $this->open->depth() - 1;
            if ($token->name === 'script' && isset($this->scripts[$top])) {
                $script = $this->svgScript($top, true);
                $this->closeTo($top);

                return $script;
            }
            if (in_array($token->name, ['br', 'p'], true)) {
                $this->leaveForeign();
            } else {
                $place = $this->open->last("/{$token->name}");
                if ($place > $this->open->lastOfHtml()) {
                    $this->closeTo($place);

                    return null;
                }
            }
        }
        $this->endHtml($token->name);

        return null;
    }

    private function endHtml(string $name): void
    {
        if ($name === 'form') {
            while (in_array($this->open->top(), self::IMPLIED, true)) {
                $this->closeTo($this->open->depth() - 1);
            }
        }
        if ($name === 'template') {
            $at = $this->open->last('template');
            $at < 0 || $this->closeTo($at);

            return;
        }
        if ($this->mode === 'frameset') {
            if ($name === 'frameset' && $this->open->top() === 'frameset') {
                $this->closeTo($this->open->depth() - 1);
                $this->mode = $this->open->top() === 'frameset' ? 'frameset' : 'after-frameset';
            }

            return;
        }
        if ($this->mode === 'after-frameset') {
            return;
        }
        if (! $this->open->isOpen('template') && $this->mode !== 'body') {
            if ($name === 'head' && $this->mode !== 'after-head') {
                $this->toHead();
                $this->closeTo(1);
                $this->mode = 'after-head';
            } elseif (in_array($name, ['body', 'html', 'br'], true)) {
                $this->toBody();
                $this->mayBeFrameset = $name !== 'br';
            }

            return;
        }
        if ($name === 'br') {
            $this->mayBeFrameset = false;
        }
        $at = match (true) {
            in_array($name, ['body', 'html', 'br'], true) => -1,
            $name === 'p' => $this->inButtonScope('p'),
            in_array($name, self::HEADINGS, true) => $this->open->inScope(...self::HEADINGS),
            $name === 'li' => $this->open->last('li') > $this->open->last('ul', 'ol', '#barrier') ? $this->open->last('li') : -1,
            // What else is open within a form stays so.
            $name === 'form' => $this->open->top() === 'form' || $this->open->isOpen('template') ? $this->open->inScope('form') : -1,
            in_array($name, self::BLOCKS, true) || in_array($name, ['applet', 'button', 'dd', 'dt', 'marquee', 'object', 'select'], true) => $this->open->inScope($name),
            in_array($name, self::FORMATTING, true) => $this->formatting($name),
            $name === 'table' || in_array($name, self::OF_TABLES, true) => $this->open->last($name) >= $this->open->last('table', 'template') ? $this->open->last($name) : -1,
            default => $this->open->withinSpecial($name),
        };
        $at <= 1 || $this->closeTo($at);
    }

    /** What a formatting element's end tag closes: nothing where a special element stands within it, which stays open (13.2.6.4.7). */
    private function formatting(string $name): int
    {
        return $this->open->inScope($name) > $this->open->last('#special') ? $this->open->last($name) : -1;
    }

    private function inButtonScope(string $name): int
    {
        $at = $this->open->inScope($name);

        return $at > $this->open->last('button') ? $at : -1;
    }

    private function text(Token $token): Node
    {
        $text = $this->slice($token);
        if (trim($text, " \t\n\f\r\0") !== '' && ! in_array($this->mode, ['frameset', 'after-frameset'], true)) {
            // A word ends the head; white space does not.
            if (! $this->open->isOpen('template') && $this->mode !== 'body') {
                $this->toBody();
            }
            $this->mayBeFrameset = false;
        }
        if (isset($this->scripts[$this->open->depth() - 1])) {
            $this->scripts[$this->open->depth() - 1][1][] = str_starts_with($text, '<![CDATA[') ? (string) preg_replace('/\]\]>\z/', '', substr($text, 9)) : html_entity_decode($text, ENT_QUOTES | ENT_HTML5, 'UTF-8');
        }

        return new Node('#text', $this->place(), $this->inside(), $token->offset, [], $text);
    }

    /** Whether the innermost element is one of svg or math. */
    private function isInForeign(): bool
    {
        return ($this->open->top()[0] ?? '') === '/';
    }

    /** Whether a start tag is read by the rules of svg and math (13.2.6, "tree construction dispatcher"). */
    private function isForeign(Token $token): bool
    {
        [$isSvg, $content] = $this->foreign[$this->open->depth() - 1] ?? [false, 'html'];

        return match ($content) {
            'html' => false,
            'text' => in_array($token->name, ['mglyph', 'malignmark'], true),
            default => $isSvg || $this->open->top() !== '/annotation-xml' || $token->name !== 'svg',
        };
    }

    /** Whether a start tag inside of svg or math stays there. */
    private function staysForeign(Token $token): bool
    {
        $breaksOut = in_array($token->name, self::BREAKOUT, true)
            || ($token->name === 'font' && array_intersect(['color', 'face', 'size'], array_keys($token->attributes)) !== []);
        if ($breaksOut) {
            $this->leaveForeign();
        }

        return ! $breaksOut;
    }

    private function leaveForeign(): void
    {
        while (($this->foreign[$this->open->depth() - 1][1] ?? 'html') === '') {
            $this->closeTo($this->open->depth() - 1);
        }
    }

    private function startForeign(Token $token): ?Node
    {
        $name = $token->name;
        // In the namespace of what it stands in, whatever it is called.
        $isSvg = $this->foreign[$this->open->depth() - 1][0];
        $isOpen = ! $token->selfClosing && $this->openForeign($name, $isSvg, match (true) {
            $isSvg => in_array($name, self::SVG_HTML, true) ? 'html' : '',
            in_array($name, self::MATH_TEXT, true) => 'text',
            default => $name === 'annotation-xml' && in_array(strtolower($token->attributes['encoding'] ?? ''), ['text/html', 'application/xhtml+xml'], true) ? 'html' : '',
        });
        if ($isOpen && $isSvg && $name === 'script') {
            // Told of when its text is known.
            $this->scripts[$this->open->depth() - 1] = [$token, []];

            return null;
        }

        return new Node($name, $this->place(), $this->inside() ?? ($isSvg ? null : 'math'), $token->offset, $token->attributes, $name === 'script' ? $this->rest($token) : '', true, $isSvg);
    }

    /** @param 'html'|'text'|'' $content */
    private function openForeign(string $name, bool $isSvg, string $content): bool
    {
        if (! $this->open->push("/{$name}")) {
            return false;
        }
        $this->foreign[$this->open->depth() - 1] = [$isSvg, $content];
        $this->tokens->foreign(true);

        return true;
    }

    private function svgScript(int $depth, bool $isClosed): Node
    {
        [$token, $texts] = $this->scripts[$depth];
        unset($this->scripts[$depth]);

        return new Node('script', $this->place(), $this->inside(), $token->offset, $token->attributes, implode('', $texts), $isClosed, true);
    }

    /** Whether a template is a shadow root that is written down (13.2.6.4.4, "shadowrootmode"). */
    private function isShadowRoot(Token $token): bool
    {
        $host = $this->open->top();

        return $this->inert === 0
            && in_array(strtolower($token->attributes['shadowrootmode'] ?? ''), ['open', 'closed'], true)
            && (in_array($host, self::HOSTS, true) || (preg_match('/\A[a-z][^\/]*-/', $host) === 1 && ! in_array($host, self::RESERVED, true)))
            && ! isset($this->hosts[$this->open->depth() - 1]);
    }

    private function toHead(): void
    {
        if ($this->mode === 'before') {
            $this->open->push('html');
            $this->open->push('head');
            $this->mode = 'head';
        }
    }

    private function toBody(): void
    {
        $this->toHead();
        $this->closeTo(1);
        $this->open->push('body');
        $this->mode = 'body';
    }

    private function toFrameset(): void
    {
        $this->toHead();
        $this->closeTo(1);
        $this->mode = 'frameset';
    }

    private function closeTo(int $left): void
    {
        for ($at = $this->open->depth() - 1; $at >= $left; $at--) {
            if ($this->open->at($at) === 'template') {
                if (isset($this->shadows[$at])) {
                    unset($this->shadows[$at]);
                } else {
                    $this->inert--;
                }
            }
            if (isset($this->scripts[$at])) {
                $this->cutOff[] = $this->svgScript($at, false);
            }
            unset($this->hosts[$at], $this->foreign[$at], $this->columns[$at]);
        }
        $this->open->closeTo($left);
        $this->tokens->foreign($this->isInForeign());
    }

    /** The content of a script that is not read as raw text: up to the next tag. */
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
        return in_array($this->mode, ['before', 'head', 'after-head'], true) ? 'head' : 'body';
    }

    private function inside(): ?string
    {
        return match (true) {
            $this->inert > 0 => 'template',
            in_array($this->mode, ['frameset', 'after-frameset'], true) => 'frameset',
            default => null,
        };
    }
}
