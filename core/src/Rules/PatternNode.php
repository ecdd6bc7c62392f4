<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** A part of a pattern: one character, an edge, parts one after the other, a choice of parts, or a repetition of one part. */
final readonly class PatternNode
{
    /**
     * @param 'one'|'edge'|'all'|'any'|'loop' $type
     * @param list<self>                      $parts of a loop: the one that is repeated
     * @param int|null                        $most  of a loop: null for without end
     * @param string                          $text  of a loop and an edge: as it is written
     */
    private function __construct(
        public string $type,
        public CharacterSet $set,
        public array $parts = [],
        public int $least = 1,
        public ?int $most = 1,
        public string $text = '',
    ) {
    }

    public static function one(CharacterSet $set): self
    {
        return new self('one', $set);
    }

    /** @param string $text `^` or `$` */
    public static function edge(string $text): self
    {
        return new self('edge', CharacterSet::none(), text: $text);
    }

    /** @param list<self> $parts */
    public static function all(array $parts): self
    {
        return new self('all', CharacterSet::none(), $parts);
    }

    /** @param list<self> $parts */
    public static function any(array $parts): self
    {
        return new self('any', CharacterSet::none(), $parts);
    }

    public static function loop(self $body, int $least, ?int $most, string $text): self
    {
        return new self('loop', CharacterSet::none(), [$body], $least, $most, $text);
    }

    /** The characters that it may begin with; where it may be empty, also those that come after it. */
    public function first(CharacterSet $follow): CharacterSet
    {
        if ($this->type === 'one') {
            return $this->set;
        }
        $set = CharacterSet::none();
        foreach ($this->parts as $part) {
            $set = $set->with($part->first(CharacterSet::none()));
            if ($this->type === 'all' && ! $part->canBeEmpty()) {
                return $set;
            }
        }

        return $this->canBeEmpty() ? $set->with($follow) : $set;
    }

    /** Whether a text that one of the two begins to match is sure not to be matched by the other: character by character, as far as both have one. */
    public function differsFrom(self $other): bool
    {
        $theirs = $other->beginning();
        foreach ($this->beginning() as $i => $set) {
            if (! isset($theirs[$i])) {
                return false;
            }
            if (! $set->meets($theirs[$i])) {
                return true;
            }
        }

        return false;
    }

    /** Whether whatever it matches begins where the text does. */
    public function isAnchored(): bool
    {
        return match ($this->type) {
            'edge' => $this->text === '^',
            'all' => $this->parts !== [] && $this->parts[0]->isAnchored(),
            'any' => array_filter($this->parts, static fn (self $part): bool => ! $part->isAnchored()) === [],
            default => false,
        };
    }

    /** How large it is when every counted repetition is written out, which is what engines keep; up to a bound. */
    public function writtenOut(int $most): int
    {
        $size = 1;
        foreach ($this->parts as $part) {
            $size += $part->writtenOut($most);
        }

        return min($most + 1, $this->type === 'loop' ? $size * max(1, $this->least, $this->most ?? 1) : $size);
    }

    /** How many characters it may match, as far as that matters. */
    public function longest(): int
    {
        $parts = array_map(static fn (self $part): int => $part->longest(), $this->parts);

        return min(Pattern::LONGEST_TEXT, match ($this->type) {
            'one' => 1,
            'edge' => 0,
            'all' => array_sum($parts),
            'any' => max([0, ...$parts]),
            'loop' => $parts[0] * ($this->most ?? Pattern::LONGEST_TEXT),
        });
    }

    /** @return list<CharacterSet> what its first characters can be, as long as it is sure that there is one */
    private function beginning(): array
    {
        if ($this->type === 'one') {
            return [$this->set];
        }
        $sets = [];
        foreach ($this->type === 'all' ? $this->parts : [] as $part) {
            if ($part->type === 'edge') {
                continue;
            }
            $own = $part->beginning();
            array_push($sets, ...$own);
            if ($part->type !== 'one' && ! ($part->type === 'all' && count($own) === $part->longest())) {
                break;
            }
        }

        return $sets;
    }

    public function canBeEmpty(): bool
    {
        $empty = array_filter($this->parts, static fn (self $part): bool => $part->canBeEmpty());

        return match ($this->type) {
            'one' => false,
            'edge' => true,
            'loop' => $this->least === 0 || $empty !== [],
            'any' => $empty !== [],
            'all' => count($empty) === count($this->parts),
        };
    }
}
