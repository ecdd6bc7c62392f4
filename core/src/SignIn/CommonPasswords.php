<?php

declare(strict_types=1);

namespace Pellix\Core\SignIn;

/** Passwords that are known to everybody who guesses. */
final readonly class CommonPasswords
{
    /** @param string $list in lower case, one a line, with a line break before the first and after the last */
    private function __construct(private string $list)
    {
    }

    /** @param string $text in lower case, one a line */
    public static function of(string $text): self
    {
        return new self("\n".trim(str_replace("\r", '', $text), "\n")."\n");
    }

    public function has(string $password): bool
    {
        return $password !== '' && ! str_contains($password, "\n") && str_contains($this->list, "\n{$password}\n");
    }
}
