<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Formats\Fields;

/** Why an experiment is made: a text of its own, or parts that make a sentence. */
final readonly class Hypothesis
{
    /** Part => the words before it. */
    public const PARTS = [
        'because' => 'Because',
        'change' => 'we believe that',
        'audience' => 'for',
        'effect' => 'will',
        'measure' => 'measured by',
    ];

    private const LONGEST = 2000;
    private const LONGEST_PART = 380;

    /** @param array<string, string> $parts those that say something, in their order; none where it is a text of its own */
    private function __construct(public string $text, public array $parts)
    {
    }

    /**
     * From the members `hypothesis` (a text) and `hypothesis_parts` (an object); parts win, and their sentence is the text.
     *
     * @param Fields<InvalidExperiment> $fields
     *
     * @throws InvalidExperiment
     */
    public static function of(Fields $fields): self
    {
        $text = $fields->text('hypothesis', self::LONGEST, '');
        $parts = $fields->has('hypothesis_parts') ? $fields->part('hypothesis_parts', self::parts(...)) : [];

        return new self($parts === [] ? $text : self::sentence($parts), $parts);
    }

    /** @return array<string, string> */
    private static function parts(mixed $json): array
    {
        $fields = new Fields($json, InvalidExperiment::class, 'A hypothesis in parts');
        $parts = [];
        foreach (array_keys(self::PARTS) as $part) {
            $text = trim($fields->text($part, self::LONGEST_PART, ''));
            if ($text !== '') {
                $parts[$part] = $text;
            }
        }
        $fields->nothingElse();

        return $parts;
    }

    /** @param array<string, string> $parts */
    private static function sentence(array $parts): string
    {
        $said = array_map(static fn (string $part, string $text): string => self::PARTS[$part].' '.rtrim($text, ' .;,'), array_keys($parts), $parts);
        $measured = isset($parts['measure']) ? array_pop($said) : null;
        $claim = implode(' ', $said);
        if (isset($parts['because']) && count($said) > 1) {
            $claim = $said[0].', '.implode(' ', array_slice($said, 1));
        }
        $sentence = implode('; ', array_filter([$claim, $measured], static fn (?string $part): bool => ($part ?? '') !== ''));

        return mb_strtoupper(mb_substr($sentence, 0, 1)).mb_substr($sentence, 1).'.';
    }
}
