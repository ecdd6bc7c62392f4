<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Tags;

use Pellix\Core\Formats\Fields;

/** All tags of a site, as they are published together. */
final readonly class TagSet
{
    private const MOST = 200;

    /** @param list<Tag> $tags */
    private function __construct(public array $tags)
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
