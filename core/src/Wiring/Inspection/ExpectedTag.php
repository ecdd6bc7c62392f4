<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Wiring\Html\Node;
use Pellix\Core\Wiring\Html\Script;
use Pellix\Core\Wiring\Html\ScriptType;
use Pellix\Core\Wiring\InvalidWiring;

/** A tag that a page must have: a script or an image that is known by a part of its text or of its address. */
final readonly class ExpectedTag
{
    private function __construct(public string $key, public string $contains, public ?string $after)
    {
    }

    /**
     * From `{"key":"counter","contains":"counter.js","after":"data-layer"}`.
     *
     * @throws InvalidWiring
     */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidWiring::class, 'A tag');

        $tag = new self(
            $fields->pattern('key', '/\A[a-z0-9][a-z0-9-]{0,59}\z/', 'A tag key is 1 to 60 of a-z, 0-9 and "-".'),
            $fields->text('contains', 500),
            $fields->has('after') ? $fields->text('after', 60) : null,
        );
        $fields->nothingElse();

        return $tag;
    }

    /**
     * The tags of a list that a member `tags` holds; one can only be meant to come after another of them.
     *
     * @param Fields<InvalidWiring> $fields
     *
     * @return list<self>
     *
     * @throws InvalidWiring
     */
    public static function readAll(Fields $fields): array
    {
        $tags = [];
        foreach ($fields->list('tags') as $i => $tag) {
            $tags[] = Fields::within("tags.{$i}", static fn (): self => self::read($tag), InvalidWiring::class);
        }
        $keys = array_map(static fn (self $tag): string => $tag->key, $tags);
        foreach ($tags as $i => $tag) {
            if ($tag->after !== null && ! in_array($tag->after, $keys, true)) {
                throw new InvalidWiring("There is no tag \"{$tag->after}\".", "tags.{$i}.after");
            }
        }

        return $tags;
    }

    /** @return array<string, string> */
    public function toArray(): array
    {
        return array_filter(['key' => $this->key, 'contains' => $this->contains, 'after' => $this->after], static fn (?string $part): bool => $part !== null);
    }

    /** Whether an element is this tag; a script that no browser runs is not, nor is one of data that only names it. */
    public function is(Node $node): bool
    {
        if (! in_array($node->name, ['script', 'img', 'iframe'], true) || $node->inside !== null) {
            return false;
        }
        $script = $node->name === 'script' ? new Script($node) : null;
        if ($script !== null && ($script->neverRuns() !== null || ($script->type === ScriptType::Data && preg_match('~json|importmap|speculationrules~i', $node->attribute('type') ?? '') === 1))) {
            return false;
        }

        return (str_contains($node->text, $this->contains) && ! ($script !== null && self::hasSwallowed($node->text))) || str_contains($script->source ?? $node->attribute('src') ?? '', $this->contains)
            || str_contains($node->attribute('data-src') ?? '', $this->contains);
    }

    /** Whether a script holds the tag of another one, since it was not closed before it: what is in it is no code then. */
    private static function hasSwallowed(string $text): bool
    {
        $tokens = stripos($text, '<script') === false ? [] : CodeTokens::of($text) ?? [];
        foreach ($tokens as $i => $token) {
            if ($token[1] === '<' && strtolower($tokens[$i + 1][1] ?? '') === 'script') {
                return true;
            }
        }

        return false;
    }
}
