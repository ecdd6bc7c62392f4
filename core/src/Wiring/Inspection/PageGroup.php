<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Wiring\InvalidWiring;

/** A part of the site's pages, told by a rule, and what must stand on them. */
final readonly class PageGroup
{
    /**
     * @param bool              $snippet  whether the site's snippet must stand there
     * @param bool|null         $guard    whether a flicker guard must; null where that does not matter
     * @param bool              $unlinked whether nothing may lead there: pages of a redirect variant, which visitors are sent to
     * @param list<ExpectedTag> $tags
     */
    private function __construct(
        public string $name,
        public PageRule $pages,
        public bool $snippet,
        public ?bool $guard,
        public bool $unlinked,
        public array $tags,
    ) {
    }

    /**
     * From `{"name":"Loan","pages":RULE,"snippet":true,"guard":null,"unlinked":false,"tags":[{"key","contains","after"}]}`.
     *
     * @throws InvalidWiring
     */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidWiring::class, 'A group of pages');
        $tags = ExpectedTag::readAll($fields);

        $group = new self(
            $fields->text('name', 80),
            $fields->part('pages', PageRule::read(...)),
            ! $fields->has('snippet') || $fields->flag('snippet'),
            $fields->has('guard') ? $fields->flag('guard') : null,
            $fields->flag('unlinked'),
            $tags,
        );
        $fields->nothingElse();

        return $group;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'name' => $this->name,
            'pages' => $this->pages->rule->toArray(),
            'snippet' => $this->snippet,
            'guard' => $this->guard,
            'unlinked' => $this->unlinked,
            'tags' => array_map(static fn (ExpectedTag $tag): array => $tag->toArray(), $this->tags),
        ];
    }
}
