<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** What is known while a rule is evaluated. */
interface Facts
{
    /** The value of a fact such as `url.path`, or null where it does not exist. */
    public function get(string $fact): string|int|float|bool|null;
}
