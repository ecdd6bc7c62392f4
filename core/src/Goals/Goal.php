<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Rules\PageRule;

/** What counts: a page reached, by a rule on its address. */
final readonly class Goal
{
    private function __construct(public string $key, public string $name, public string $role, public PageRule $pages)
    {
    }

    /**
     * From `{"key":"joined","name":"Joined","kind":"page","role":"primary","pages":RULE}`.
     *
     * @throws InvalidGoal
     */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidGoal::class, 'A goal');
        $fields->word('kind', ['page'], 'page');
        $key = $fields->pattern(
            'key',
            '/\A[a-z0-9][a-z0-9-]{0,59}\z/',
            'A goal key is 1 to 60 of a-z, 0-9 and "-", and starts with a letter or a digit.',
        );

        return new self(
            $key,
            $fields->text('name', 120, $key),
            $fields->word('role', ['primary', 'secondary', 'guardrail'], 'primary'),
            $fields->part('pages', PageRule::read(...)),
        );
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'key' => $this->key,
            'name' => $this->name,
            'kind' => 'page',
            'role' => $this->role,
            'pages' => $this->pages->rule->toArray(),
        ];
    }
}
