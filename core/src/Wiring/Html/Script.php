<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/** What a browser does with a script element of a page (WHATWG HTML, 4.12.1.1, "prepare the script element"). */
final readonly class Script
{
    public ScriptType $type;

    /** The address that it loads; null where it holds its code itself. */
    public ?string $source;

    public function __construct(public Node $node)
    {
        $this->type = ScriptType::of($node);
        $this->source = $node->svg ? $node->attribute('href') ?? $node->attribute('xlink:href') : $node->attribute('src');
    }

    /** Why no browser runs it, whatever is done to the page later; null where one would. */
    public function neverRuns(): ?string
    {
        return match (true) {
            $this->node->inside === 'template' => 'It stands inside of a template, whose content is inert.',
            $this->node->inside === 'frameset' => 'A frameset has taken the place of the body, and no script of that page runs.',
            $this->node->inside === 'math' => 'It is an element of MathML there, not a script.',
            ! $this->node->closed => 'It is never closed, so no browser runs it.',
            $this->isForOthers() => 'Its attribute nomodule keeps it from all browsers of today.',
            $this->isForAnEvent() => 'Its attributes “for” and “event” name something that never happens.',
            default => null,
        };
    }

    /** Whether a browser runs it as it stands. */
    public function runs(): bool
    {
        return $this->neverRuns() === null && $this->type !== ScriptType::Data && ($this->source ?? $this->node->text) !== '';
    }

    public function isAsync(): bool
    {
        return $this->node->attribute('async') !== null && ($this->source !== null || $this->type === ScriptType::Module);
    }

    /** Whether it waits until the whole page was read. */
    public function isDeferred(): bool
    {
        return ! $this->isAsync() && ! $this->node->svg
            && ($this->type === ScriptType::Module || ($this->type === ScriptType::Classic && $this->source !== null && $this->node->attribute('defer') !== null));
    }

    /** Whether everything after it waits until its file has come. */
    public function isBlocking(): bool
    {
        return $this->runs() && $this->source !== null && $this->type === ScriptType::Classic && ! $this->isAsync() && ! $this->isDeferred();
    }

    private function isForOthers(): bool
    {
        return $this->type === ScriptType::Classic && ! $this->node->svg && $this->node->attribute('nomodule') !== null;
    }

    private function isForAnEvent(): bool
    {
        $for = $this->node->attribute('for');
        $event = $this->node->attribute('event');

        return $this->type === ScriptType::Classic && ! $this->node->svg && $for !== null && $event !== null
            && (strtolower(trim($for, " \t\n\f\r")) !== 'window' || ! in_array(strtolower(trim($event, " \t\n\f\r")), ['onload', 'onload()'], true));
    }
}
