<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/** Which groups an element's name belongs to, worked out once for each name. */
final class Groups
{
    /** @var array<string, list<string>> name => itself and its groups */
    private array $known = [];

    /** @param array<string, array<string, int>> $groups group => names, as keys */
    private function __construct(private readonly array $groups)
    {
    }

    /** @param array<string, list<string>> $groups group => names */
    public static function of(array $groups): self
    {
        return new self(array_map(array_flip(...), $groups));
    }

    /** @return list<string> the name and its groups; `#html` is the group of all that are neither of svg nor of math */
    public function with(string $name): array
    {
        if (isset($this->known[$name])) {
            return $this->known[$name];
        }
        $all = [$name];
        foreach ($this->groups as $group => $names) {
            if (isset($names[$name])) {
                $all[] = $group;
            }
        }
        if ($name[0] !== '/') {
            $all[] = '#html';
        }
        // A page may make up names without end.
        if (count($this->known) < 500) {
            $this->known[$name] = $all;
        }

        return $all;
    }
}
