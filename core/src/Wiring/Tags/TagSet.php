<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Tags;

use Pellix\Core\Formats\Fields;

/** All tags of a site, as they are published together. */
final readonly class TagSet
{
    private const MOST = 200;

    /**
     * @param list<Tag>             $tags
     * @param array<string, string> $faults key of a tag that was kept once and cannot be read any more => why
     */
    private function __construct(public array $tags, public array $faults = [])
    {
    }

    /** @throws InvalidTag with the path of the field at fault */
    public static function read(mixed $json, bool $toBeKept = false): self
    {
        if (! is_array($json) || ! array_is_list($json) || count($json) > self::MOST) {
            throw new InvalidTag('A list of at most '.self::MOST.' tags is needed.');
        }
        $tags = [];
        foreach ($json as $i => $one) {
            $tag = Fields::within((string) $i, static fn (): Tag => Tag::read($one, $toBeKept), InvalidTag::class);
            if (isset($tags[$tag->key])) {
                throw new InvalidTag("The key \"{$tag->key}\" is taken by an earlier tag.", "{$i}.key");
            }
            $tags[$tag->key] = $tag;
        }
        self::checkOrder($tags);

        return new self(array_values($tags));
    }

    /** What can be read of tags that were kept: one that cannot, and whatever waits for it, leaves the others alone. */
    public static function readable(mixed $json): self
    {
        $tags = $faults = [];
        foreach (is_array($json) ? array_values($json) : [] as $i => $one) {
            try {
                $tag = Tag::read($one);
                $tags[$tag->key] ??= $tag;
            } catch (InvalidTag $e) {
                $key = is_array($one) && is_string($one['key'] ?? null) ? $one['key'] : (string) $i;
                $faults[$key] = ($e->field === '' ? '' : "{$e->field}: ").$e->getMessage();
            }
        }
        do {
            $left = array_filter($tags, static fn (Tag $tag): bool => self::isReached($tag, $tags));
            $isDone = count($left) === count($tags);
            foreach (array_diff_key($tags, $left) as $key => $tag) {
                $faults[(string) $key] = "after: It waits for \"{$tag->after}\", which never comes.";
            }
            $tags = $left;
        } while (! $isDone);

        return new self(array_values($tags), $faults);
    }

    /** @param array<string, Tag> $tags */
    private static function isReached(Tag $tag, array $tags): bool
    {
        for ($n = 0; $tag !== null && $tag->after !== null; $n++) {
            $tag = $n > count($tags) ? null : $tags[$tag->after] ?? null;
        }

        return $tag !== null;
    }

    /** @return list<array<string, mixed>> */
    public function toArray(): array
    {
        return array_map(static fn (Tag $tag): array => $tag->toArray(), $this->tags);
    }

    /**
     * What changed from one set to another, tag by tag, in the order of their keys.
     *
     * @return list<array{key: string, change: 'added'|'removed'|'changed', fields: list<array{field: string, before: mixed, after: mixed}>}>
     */
    public static function differences(self $before, self $after): array
    {
        $old = array_column($before->toArray(), null, 'key');
        $new = array_column($after->toArray(), null, 'key');
        $keys = array_unique([...array_keys($old), ...array_keys($new)]);
        sort($keys);
        $changes = [];
        foreach ($keys as $key) {
            $fields = [];
            foreach (['name', 'kind', 'code', 'consent', 'triggers', 'once', 'after'] as $field) {
                [$was, $is] = [$old[$key][$field] ?? null, $new[$key][$field] ?? null];
                if ($was !== $is) {
                    $fields[] = ['field' => $field, 'before' => $was, 'after' => $is];
                }
            }
            if ($fields !== []) {
                $change = match (true) {
                    ! isset($old[$key]) => 'added',
                    ! isset($new[$key]) => 'removed',
                    default => 'changed',
                };
                $changes[] = ['key' => (string) $key, 'change' => $change, 'fields' => $fields];
            }
        }

        return $changes;
    }

    /** @param array<string, Tag> $tags */
    private static function checkOrder(array $tags): void
    {
        foreach (array_values($tags) as $i => $tag) {
            $seen = [$tag->key => true];
            for ($needed = $tag->after; $needed !== null; $needed = $tags[$needed]->after) {
                if (! isset($tags[$needed])) {
                    throw new InvalidTag("There is no tag \"{$needed}\".", "{$i}.after");
                }
                if (isset($seen[$needed])) {
                    throw new InvalidTag('These tags wait for one another in a circle: '.implode(', ', array_keys($seen)).'.', "{$i}.after");
                }
                $seen[$needed] = true;
            }
        }
    }
}
