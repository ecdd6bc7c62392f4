<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Rules\Facts;

/** A visitor who is made so that certain facts hold; everything else is as with any new visitor. */
final readonly class Guest implements Facts
{
    /**
     * @param string                                     $url   the page that is opened
     * @param array<string, string|int|float|bool|null> $made  fact => what it is to be; null for not there
     * @param string|null                                $fails the condition that is not to hold, in words; null for somebody who enters
     */
    public function __construct(public string $url, public array $made, public ?string $fails = null)
    {
    }

    public function get(string $fact): string|int|float|bool|null
    {
        if (str_starts_with($fact, 'url.')) {
            return AddressFacts::of($this->url)->get($fact);
        }

        return array_key_exists($fact, $this->made) ? $this->made[$fact] : match ($fact) {
            'device' => 'desktop',
            'browser' => 'chrome',
            'language' => 'en-GB',
            'visitor.returning' => false,
            default => null,
        };
    }

    /**
     * What is made of all facts whose names begin alike, such as `cookie.`, by the rest of their names.
     *
     * @return array<string, string|int|float|bool|null>
     */
    public function of(string $stem): array
    {
        $own = [];
        foreach ($this->made as $fact => $value) {
            if (str_starts_with($fact, $stem)) {
                $own[substr($fact, strlen($stem))] = $value;
            }
        }

        return $own;
    }
}
