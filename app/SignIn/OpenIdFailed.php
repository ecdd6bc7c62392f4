<?php

namespace App\SignIn;

/** A single sign-on that lets nobody in. */
final class OpenIdFailed extends \RuntimeException
{
    /** @param string $reason expired, refused, provider or unknown: what the person is told */
    public function __construct(public readonly string $reason, string $message)
    {
        parent::__construct($message);
    }
}
