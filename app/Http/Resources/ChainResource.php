<?php

namespace App\Http\Resources;

use Pellix\Core\Chain\Chain;
use Pellix\Core\Chain\Evidence;
use Pellix\Core\Chain\Link;
use Pellix\Core\Chain\State;
use Pellix\Core\Chain\Verdict;

/** A judged chain for the interface. */
class ChainResource
{
    /** @return array{words: string, links: list<array<string, mixed>>} of an experiment that cannot be read: nothing was seen of it */
    public static function unreadable(string $words): array
    {
        return ['words' => $words, 'links' => array_map(static fn (Link $link): array => ['link' => $link->value, 'state' => State::Unseen->value, 'words' => $words, 'evidence' => []], Link::cases())];
    }

    /** @return array{words: string, links: list<array<string, mixed>>} */
    public static function of(Chain $chain): array
    {
        return [
            'words' => $chain->words(),
            'links' => array_map(static fn (Verdict $verdict): array => [
                'link' => $verdict->link->value,
                'state' => $verdict->state->value,
                'words' => $verdict->words,
                'evidence' => array_map(
                    static fn (Evidence $evidence): array => ['what' => $evidence->what, 'at' => $evidence->at, 'by' => $evidence->by],
                    $verdict->evidence,
                ),
            ], $chain->verdicts),
        ];
    }
}
