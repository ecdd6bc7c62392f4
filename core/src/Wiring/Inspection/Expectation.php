<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Wiring\InvalidWiring;

/** What must stand on a page: the site's snippet, perhaps a flicker guard, and tags. */
final readonly class Expectation
{
    /**
     * @param string            $key    site key
     * @param bool|null         $guard  true where the page's experiments change something, false where none does, null where that is not known
     * @param list<ExpectedTag> $tags
     * @param string|null       $policy the Content-Security-Policy header that the page came with
     */
    private function __construct(public string $key, public ?bool $guard, public array $tags, public ?string $policy)
    {
    }

    /** @throws InvalidWiring */
    public static function of(string $key): self
    {
        return self::read($key, []);
    }

    /**
     * From `{"guard":true,"policy":"script-src 'self'","tags":[{"key":"data-layer","contains":"window.shelf ="}]}`.
     *
     * @throws InvalidWiring
     */
    public static function read(string $key, mixed $json): self
    {
        if (preg_match('/\Aplx_[a-z0-9]{16}\z/', $key) !== 1) {
            throw new InvalidWiring('A site key is "plx_" and 16 of a-z and 0-9.', 'key');
        }
        $fields = new Fields($json, InvalidWiring::class, 'What is expected');
        $tags = [];
        foreach ($fields->list('tags') as $i => $tag) {
            $tags[] = Fields::within("tags.{$i}", static fn (): ExpectedTag => ExpectedTag::read($tag), InvalidWiring::class);
        }
        $keys = array_map(static fn (ExpectedTag $tag): string => $tag->key, $tags);
        foreach ($tags as $i => $tag) {
            if ($tag->after !== null && ! in_array($tag->after, $keys, true)) {
                throw new InvalidWiring("There is no tag \"{$tag->after}\".", "tags.{$i}.after");
            }
        }

        return new self($key, $fields->has('guard') ? $fields->flag('guard') : null, $tags, $fields->has('policy') ? $fields->text('policy', 8000) : null);
    }
}
