<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Wiring\Html\Node;
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

        return new self(
            $fields->pattern('key', '/\A[a-z0-9][a-z0-9-]{0,59}\z/', 'A tag key is 1 to 60 of a-z, 0-9 and "-".'),
            $fields->text('contains', 500),
            $fields->has('after') ? $fields->text('after', 60) : null,
        );
    }

    public function is(Node $node): bool
    {
        return in_array($node->name, ['script', 'img', 'iframe'], true) && $node->inside === null
            && (str_contains($node->text, $this->contains) || str_contains($node->attribute('src') ?? '', $this->contains));
    }
}
