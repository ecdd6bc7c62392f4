<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Wiring\InvalidWiring;

/** What must stand on a page: the site's snippet, perhaps a flicker guard, and tags; and where it must not lead. */
final readonly class Expectation
{
    /**
     * @param string            $key      site key
     * @param bool              $snippet  whether the snippet must stand there
     * @param bool|null         $guard    true where the page's experiments change something, false where none does, null where that is not known
     * @param list<ExpectedTag> $tags
     * @param list<string>      $policies the Content-Security-Policy headers that the page came with
     * @param list<PageRule>    $unlinked pages that nothing may lead to
     * @param string|null       $url      the page's own address, which its links start from
     * @param string|null       $origin   scheme, host and port that Pellix is served from, for texts to paste
     * @param list<string>      $earlier  keys that the site had before and that count for a while yet
     */
    private function __construct(
        public string $key,
        public bool $snippet,
        public ?bool $guard,
        public array $tags,
        public array $policies,
        public array $unlinked,
        public ?string $url,
        public ?string $origin = null,
        public array $earlier = [],
    ) {
    }

    /** @throws InvalidWiring */
    public static function of(string $key): self
    {
        return self::read($key, []);
    }

    /**
     * What a page must have that belongs to a group.
     *
     * @param list<PageRule> $unlinked
     *
     * @throws InvalidWiring
     */
    public static function inGroup(string $key, ?PageGroup $group, array $unlinked): self
    {
        return new self(self::key($key), $group === null || $group->snippet, $group?->guard, $group === null ? [] : $group->tags, [], $unlinked, null);
    }

    /** The same, for pages that are to load the runtime from there. */
    public function servedFrom(string $origin): self
    {
        return new self($this->key, $this->snippet, $this->guard, $this->tags, $this->policies, $this->unlinked, $this->url, $origin, $this->earlier);
    }

    /** The same, of a page that came in this way. */
    public function with(Delivery $delivery): self
    {
        return new self($this->key, $this->snippet, $this->guard, $this->tags, [...$this->policies, ...$delivery->policies], $this->unlinked, $delivery->given, $this->origin, $this->earlier);
    }

    /** @param list<string> $keys all that count for the site, the present one among them */
    public function accepting(array $keys): self
    {
        return new self($this->key, $this->snippet, $this->guard, $this->tags, $this->policies, $this->unlinked, $this->url, $this->origin, array_values(array_diff($keys, [$this->key])));
    }

    /**
     * From `{"guard":true,"policy":"script-src 'self'","tags":[{"key":"data-layer","contains":"window.shelf ="}],"unlinked":[RULE],"url":"https://…"}`.
     *
     * @throws InvalidWiring
     */
    public static function read(string $key, mixed $json): self
    {
        $key = self::key($key);
        $fields = new Fields($json, InvalidWiring::class, 'What is expected');
        $unlinked = [];
        foreach ($fields->list('unlinked') as $i => $rule) {
            $unlinked[] = Fields::within("unlinked.{$i}", static fn (): PageRule => PageRule::read($rule), InvalidWiring::class);
        }

        $expected = new self(
            $key,
            ! $fields->has('snippet') || $fields->flag('snippet'),
            $fields->has('guard') ? $fields->flag('guard') : null,
            ExpectedTag::readAll($fields),
            $fields->has('policy') ? [$fields->text('policy', 8000)] : [],
            $unlinked,
            $fields->has('url') ? $fields->text('url', 2000) : null,
        );
        $fields->nothingElse();

        return $expected;
    }

    /** Whether a key is the site's, or was and counts for a while yet. */
    public function isOwn(mixed $key): bool
    {
        return $key === $this->key || in_array($key, $this->earlier, true);
    }

    private static function key(string $key): string
    {
        return preg_match('/\Aplx_[a-z0-9]{16}\z/', $key) === 1 ? $key : throw new InvalidWiring('A site key is "plx_" and 16 of a-z and 0-9.', 'key');
    }
}
