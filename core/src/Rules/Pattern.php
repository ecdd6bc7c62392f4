<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/**
 * A regular expression that a person wrote, in the part of the syntax that PCRE and ECMAScript read alike, and that cannot
 * run away: no part may be matched in more than a few ways, however long the text.
 *
 * A repetition is ambiguous where a character may belong to it or to what follows. Inside of another repetition that makes
 * the time exponential and is refused. Outside, the time is a power of the length, and only its square is allowed: each
 * ambiguous repetition counts as one, one more that comes after them, and one for a pattern that may begin anywhere. Choices
 * that can be taken both ways double the time each, and what is long after all that is tried in each of the ways: what
 * doublings the square leaves room for is bounded, too. See Davis et al., The Impact of Regular Expression Denial of Service
 * in Practice, ESEC/FSE 2018, for the forms of trouble.
 */
final class Pattern
{
    /** A longer text never matches. */
    public const LONGEST_TEXT = 1000;

    private const LONGEST = 300;

    private const MOST_REPEATED = 100;

    /** So many parts a pattern may have with its counted repetitions written out. */
    private const LARGEST = 5000;

    private const MOST_DEGREE = 2;

    /** So often the time may double in all; one more degree doubles it ten times, since texts have a thousand characters. */
    private const MOST_DOUBLINGS = 22.0;
    private const DOUBLINGS_A_DEGREE = 10;

    /** What is left to match after the last part that can be matched in several ways: so much of it costs nothing worth counting. */
    private const SHORT_TAIL = 64;

    /** Steps of PCRE that what is accepted can need at most, with a margin; its own default is below that. */
    private const STEPS = '100000000';

    private const SPECIAL = '^$\\.*+?()[]{}|/';

    private int $at = 0;

    /** The same pattern as PCRE reads it: \d and \w mean ASCII there only if spelled out. */
    private string $compiled = '';

    /** @var list<string> parts that multiply the time by the length of the text */
    private array $ambiguous = [];

    /** A repetition after the last of those. */
    private ?string $trailing = null;

    /** How often choices that can be taken both ways double the time. */
    private float $doublings = 0.0;

    /** Characters that may have to be matched after the last part that can be matched in several ways. */
    private int $tail = 0;

    private function __construct(private readonly string $source)
    {
    }

    /**
     * For preg_match(), with delimiters.
     *
     * @throws InvalidRule that quotes the part at fault
     */
    public static function compile(string $source): string
    {
        if (mb_strlen($source) > self::LONGEST || ! mb_check_encoding($source, 'UTF-8')) {
            throw new InvalidRule('A pattern has at most '.self::LONGEST.' characters.', 'value');
        }
        $pattern = new self($source);
        $tree = $pattern->alternatives();
        if ($pattern->at < strlen($source)) {
            throw $pattern->wrong('The ")" that is left over', $pattern->at, $pattern->at + 1);
        }
        $pattern->judge($tree, CharacterSet::none(), false);
        if ($tree->writtenOut(self::LARGEST) > self::LARGEST) {
            throw new InvalidRule('Repetitions within repetitions multiply: written out, the pattern has more than '.number_format(self::LARGEST).' parts. Use smaller numbers, or + and *.', 'value');
        }
        $parts = [...$pattern->ambiguous, ...($pattern->ambiguous === [] || $pattern->trailing === null ? [] : [$pattern->trailing])];
        $allowed = self::MOST_DEGREE - ($tree->isAnchored() ? 0 : 1);
        if (count($parts) > $allowed) {
            throw new InvalidRule("The part “{$parts[$allowed]}” makes the pattern run away: with the parts before it, long texts can be matched in too many ways. Begin with ^, or write what may stand there, such as [^/]*.", 'value');
        }

        $degree = count($parts) + self::MOST_DEGREE - $allowed;
        if (self::DOUBLINGS_A_DEGREE * $degree + $pattern->doublings + log(max(1, $pattern->tail / self::SHORT_TAIL), 2) > self::MOST_DOUBLINGS) {
            throw new InvalidRule('The pattern can run away: long texts can be matched in too many ways. Let the ways of a choice begin with different characters, or leave out what may or may not be there.', 'value');
        }

        $compiled = "~{$pattern->compiled}~suD";
        if (@preg_match($compiled, '') === false) {
            throw new InvalidRule('This pattern cannot be used: '.preg_last_error_msg().'.', 'value');
        }

        return $compiled;
    }

    public static function matches(string $compiled, string $text): bool
    {
        if (strlen($text) > self::LONGEST_TEXT) {
            return false;
        }
        $found = preg_match($compiled, $text);
        if ($found === false && preg_last_error() === PREG_BACKTRACK_LIMIT_ERROR) {
            // PCRE gives up before it has tried a square of the length, where a browser goes on.
            $before = (string) ini_set('pcre.backtrack_limit', self::STEPS);
            $found = preg_match($compiled, $text);
            ini_set('pcre.backtrack_limit', $before);
        }

        return $found === 1;
    }

    private function alternatives(): PatternNode
    {
        $branches = [$this->sequence()];
        while ($this->peek() === '|') {
            $this->at++;
            $this->compiled .= '|';
            $branches[] = $this->sequence();
        }

        return PatternNode::any($branches);
    }

    private function sequence(): PatternNode
    {
        $parts = [];
        while ($this->at < strlen($this->source) && ! str_contains('|)', $this->source[$this->at])) {
            $from = $this->at;
            $atom = $this->atom();
            $parts[] = $this->repeated($atom, $from);
        }

        return PatternNode::all($parts);
    }

    private function atom(): PatternNode
    {
        $from = $this->at;
        $character = mb_substr(substr($this->source, $from), 0, 1);
        $this->at += strlen($character);
        if ($character === '(') {
            return $this->group($from);
        }
        if ($character === '[') {
            return $this->set($from);
        }
        if ($character === '\\') {
            return PatternNode::one($this->escape($from, false));
        }
        if (str_contains('*+?{}]', $character)) {
            throw $this->wrong("A “{$character}” with nothing to repeat; write \\{$character} for the character itself", $from, $this->at);
        }
        $this->compiled .= $character === '~' ? '\\~' : $character;

        return match ($character) {
            '^', '$' => PatternNode::edge($character),
            '.' => PatternNode::one(CharacterSet::any()),
            default => PatternNode::one(self::character($character)),
        };
    }

    private function group(int $from): PatternNode
    {
        if ($this->peek() === '?') {
            if (substr($this->source, $this->at, 2) !== '?:') {
                throw $this->wrong('Look-around, names and flags are not taken', $from, $this->at + 2);
            }
            $this->at += 2;
        }
        $this->compiled .= '(?:';
        $inner = $this->alternatives();
        if ($this->peek() !== ')') {
            throw $this->wrong('A “(” that is never closed', $from, strlen($this->source));
        }
        $this->at++;
        $this->compiled .= ')';

        return $inner;
    }

    private function set(int $from): PatternNode
    {
        $isInverse = $this->peek() === '^';
        $this->at += $isInverse ? 1 : 0;
        $this->compiled .= $isInverse ? '[^' : '[';
        $set = CharacterSet::none();
        $count = 0;
        while ($this->at < strlen($this->source) && $this->source[$this->at] !== ']') {
            $start = $this->at;
            [$first, $code] = $this->member();
            $count++;
            if ($code === null && $this->peek() === '-' && $this->peek(1) !== ']') {
                // PCRE takes the "-" for itself here, and browsers refuse it.
                throw $this->wrong('A “-” after \\d or \\w, which are no beginning of a range; write \\-', $start, $this->at + 2);
            }
            if ($code !== null && $this->peek() === '-' && ! in_array($this->peek(1), ['', ']'], true)) {
                $this->at++;
                $this->compiled .= '-';
                [, $last] = $this->member();
                if ($last === null || $last < $code) {
                    throw $this->wrong('A range that runs backwards', $start, $this->at);
                }
                $first = CharacterSet::range($code, $last);
            }
            $set = $set->with($first);
        }
        if ($this->at >= strlen($this->source) || $count === 0) {
            throw $this->wrong('A “[” that is never closed, or is empty', $from, strlen($this->source));
        }
        $this->at++;
        $this->compiled .= ']';

        return PatternNode::one($isInverse ? $set->inverse() : $set);
    }

    /** @return array{CharacterSet, int|null} one member of a set, with its code where it is a single character */
    private function member(): array
    {
        $from = $this->at;
        $character = mb_substr(substr($this->source, $from), 0, 1);
        $this->at += strlen($character);
        if ($character === '\\') {
            $escaped = $this->peek();
            $set = $this->escape($from, true);

            return [$set, in_array($escaped, ['d', 'w'], true) ? null : ord($escaped)];
        }
        if ($character === '[') {
            throw $this->wrong('A “[” inside of a set; write \\[', $from, $this->at);
        }
        // The sign of delimiters, and those that would begin a class of POSIX.
        $this->compiled .= in_array($character, ['~', '&', ':', '.', '='], true) ? "\\{$character}" : $character;

        return [self::character($character), mb_ord($character)];
    }

    private function escape(int $from, bool $inSet): CharacterSet
    {
        $character = $this->peek();
        $this->at++;
        if ($character === 'd') {
            $this->compiled .= $inSet ? '0-9' : '[0-9]';

            return CharacterSet::range(48, 57);
        }
        if ($character === 'w') {
            $this->compiled .= $inSet ? 'A-Za-z0-9_' : '[A-Za-z0-9_]';

            return CharacterSet::range(65, 90)->with(CharacterSet::range(97, 122))->with(CharacterSet::range(48, 57))->with(CharacterSet::range(95, 95));
        }
        if ($character === '' || ! str_contains(self::SPECIAL.($inSet ? '-' : ''), $character)) {
            throw $this->wrong('Only \\d, \\w and escaped special characters are taken', $from, $this->at);
        }
        $this->compiled .= "\\{$character}";

        return self::character($character);
    }

    private function repeated(PatternNode $atom, int $from): PatternNode
    {
        if (preg_match('/\G(?:([*+?])|\{(\d{1,4})(?:(,)(\d{1,4})?)?\})/', $this->source, $m, PREG_UNMATCHED_AS_NULL, $this->at) !== 1) {
            return $atom;
        }
        $this->at += strlen((string) $m[0]);
        $this->compiled .= $m[0];
        if ($atom->type === 'edge') {
            throw $this->wrong('An edge cannot be repeated', $from, $this->at);
        }
        [$least, $most] = match ($m[1]) {
            '*' => [0, null],
            '+' => [1, null],
            '?' => [0, 1],
            default => [(int) $m[2], $m[3] === null ? (int) $m[2] : ($m[4] === null ? null : (int) $m[4])],
        };
        if ($most !== null && $most < $least || max($least, $most ?? 0) > self::MOST_REPEATED) {
            throw $this->wrong('A repetition counts from small to large, to '.self::MOST_REPEATED.' at most', $from, $this->at);
        }
        if (str_contains('?+*{', $this->peek() ?: 'x')) {
            throw $this->wrong('One repetition sign at a time is taken', $from, $this->at + 1);
        }

        return PatternNode::loop($atom, $least, $most, substr($this->source, $from, $this->at - $from));
    }

    /**
     * Looks for parts that can be matched in several ways.
     *
     * @param CharacterSet $follow what may come after the node
     *
     * @throws InvalidRule
     */
    private function judge(PatternNode $node, CharacterSet $follow, bool $inLoop): void
    {
        if ($node->type === 'loop') {
            $this->judgeLoop($node, $follow, $inLoop);

            return;
        }
        if ($node->type === 'one') {
            $this->tail += $inLoop ? 0 : 1;
        } elseif ($node->type === 'any' && ! $inLoop) {
            $this->judgeChoice($node);
        }
        foreach ($node->parts as $i => $part) {
            $rest = array_slice($node->parts, $i + 1);
            if ($node->type === 'all') {
                $this->judge($part, PatternNode::all($rest)->first($follow), $inLoop);
                continue;
            }
            foreach ($inLoop ? $rest : [] as $other) {
                if ($part->first($follow)->meets($other->first($follow))) {
                    throw new InvalidRule('A choice inside of a repetition, two ways of which begin alike, can run away. Take the choice out of the repetition, or let its ways begin with different characters.', 'value');
                }
            }
            $this->judge($part, $follow, $inLoop);
        }
    }

    /** Outside of a repetition each way of a choice is tried once for each way of what stands before it. */
    private function judgeChoice(PatternNode $choice): void
    {
        $most = 1;
        foreach ($choice->parts as $way) {
            $most = max($most, count(array_filter($choice->parts, static fn (PatternNode $other): bool => ! $way->differsFrom($other))));
        }
        $this->doublings += log($most, 2);
    }

    private function judgeLoop(PatternNode $loop, CharacterSet $follow, bool $inLoop): void
    {
        $body = $loop->parts[0];
        $repeats = $loop->most === null || $loop->most > 1;
        // Nothing can be nothing once, or not be there at all: inside of a repetition that doubles with each turn.
        if (($repeats || ($inLoop && $loop->least === 0)) && $body->canBeEmpty()) {
            throw new InvalidRule("The part “{$loop->text}” repeats something that may be empty, and can run away. Let each turn take at least one character.", 'value');
        }
        $this->doublings += $loop->least === 0 && $body->canBeEmpty() ? 1 : 0;
        $first = $body->first(CharacterSet::none());
        if ($loop->least !== $loop->most && $first->meets($follow)) {
            if ($inLoop) {
                throw new InvalidRule("The part “{$loop->text}”, inside of another repetition, can run away. Write which characters may stand there, such as [^/]+, so that it is clear where it ends.", 'value');
            }
            $this->ambiguous[] = $loop->text;
            $this->trailing = null;
            $this->tail = 0;
        } elseif ($loop->most === null || $loop->most - $loop->least > 1) {
            $this->trailing = $loop->text;
        } elseif ($repeats && ! $inLoop) {
            $this->tail += $loop->longest();
        }
        $this->judge($body, $repeats ? $first->with($follow) : $follow, $inLoop || $repeats);
    }

    private function peek(int $ahead = 0): string
    {
        return $this->source[$this->at + $ahead] ?? '';
    }

    private static function character(string $character): CharacterSet
    {
        return CharacterSet::range((int) mb_ord($character), (int) mb_ord($character));
    }

    private function wrong(string $what, int $from, int $to): InvalidRule
    {
        return new InvalidRule("{$what}: “".mb_scrub(substr($this->source, $from, $to - $from), 'UTF-8').'”.', 'value');
    }
}
