<?php

declare(strict_types=1);

namespace Pellix\Core\Happenings;

/**
 * A CSS selector that can be matched against the path of an element, as the runtime records it with a click:
 * `html>body>main>form#loan.steps>button.next`. It is matched like `element.closest(selector)`: the element that was hit
 * may lie inside of the one that is meant.
 *
 * Taken are element names, `#id`, `.class`, `*`, the combinators ` ` and `>`, and lists with `,` (W3C Selectors Level 4).
 */
final class ElementSelector
{
    /** So many answers are remembered, of paths up to that length: elements are clicked again and again. */
    private const REMEMBERED = 2000;
    private const LONGEST_REMEMBERED = 500;

    private const NAME = '-?[A-Za-z_\x{80}-\x{10ffff}][A-Za-z0-9_\x{80}-\x{10ffff}-]*';

    /** @var array<string, bool> path => answer */
    private array $answers = [];

    /** @param list<list<array{combinator: string, name: string, marks: list<string>}>> $alternatives compounds from left to right */
    private function __construct(public readonly string $text, private readonly array $alternatives)
    {
    }

    /** @throws InvalidHappening */
    public static function read(string $text): self
    {
        $alternatives = [];
        foreach (explode(',', $text) as $part) {
            $alternatives[] = self::complex(trim($part));
        }

        return new self($text, $alternatives);
    }

    /** @param string $path as the runtime records it */
    public function matches(string $path): bool
    {
        if (strlen($path) > self::LONGEST_REMEMBERED) {
            return $this->isAnyMet($path);
        }
        if (count($this->answers) >= self::REMEMBERED) {
            $this->answers = [];
        }
        // With a mark before it, since PHP would take a path of digits for a number.
        return $this->answers["#{$path}"] ??= $this->isAnyMet($path);
    }

    private function isAnyMet(string $path): bool
    {
        $elements = array_map(self::element(...), $path === '' ? [] : explode('>', $path));
        foreach ($this->alternatives as $compounds) {
            if (self::isMet($compounds, $elements)) {
                return true;
            }
        }

        return false;
    }

    /**
     * Whether some element is what the last compound means. Each element is looked at once, from the outermost in, with
     * what is known of those around it.
     *
     * @param list<array{combinator: string, name: string, marks: list<string>}> $compounds
     * @param list<array{name: string, marks: list<string>}>                     $elements
     */
    private static function isMet(array $compounds, array $elements): bool
    {
        // How far the compounds are met by some element further out, and by the one right around.
        $above = $around = [];
        foreach ($elements as $element) {
            $here = [];
            foreach ($compounds as $i => $compound) {
                $isReached = $i === 0 || isset(($compound['combinator'] === '>' ? $around : $above)[$i - 1]);
                if ($isReached && ($compound['name'] === '*' || $compound['name'] === $element['name']) && array_diff($compound['marks'], $element['marks']) === []) {
                    $here[$i] = true;
                }
            }
            if (isset($here[count($compounds) - 1])) {
                return true;
            }
            $above += $here;
            $around = $here;
        }

        return false;
    }

    /** @return list<array{combinator: string, name: string, marks: list<string>}> */
    private static function complex(string $text): array
    {
        $compounds = [];
        $pattern = '/\G\s*(>?)\s*((?:\*|'.self::NAME.')?)((?:[#.]'.self::NAME.')*)/u';
        $at = 0;
        while ($at < strlen($text) && preg_match($pattern, $text, $m, 0, $at) === 1 && $m[2].$m[3] !== '') {
            if (($m[1] === '>') !== false && $compounds === []) {
                break;
            }
            preg_match_all('/[#.]'.self::NAME.'/u', $m[3], $marks);
            $compounds[] = ['combinator' => $m[1] === '>' ? '>' : ' ', 'name' => $m[2] === '' ? '*' : strtolower($m[2]), 'marks' => $marks[0]];
            $at += strlen($m[0]);
        }
        if ($compounds === [] || $at < strlen($text) || count($compounds) > 10) {
            $rest = $text === '' ? 'nothing' : '“'.mb_scrub(substr($text, min($at, strlen($text) - 1)), 'UTF-8').'”';
            throw new InvalidHappening("A selector of element names, #id, .class, spaces and “>” is needed; {$rest} cannot be recognised in recorded clicks.", 'selector');
        }

        return $compounds;
    }

    /** @return array{name: string, marks: list<string>} */
    private static function element(string $step): array
    {
        preg_match('/\A([^#.]*)(.*)\z/s', $step, $m);
        preg_match_all('/[#.][^#.]+/', $m[2] ?? '', $marks);

        return ['name' => strtolower($m[1] ?? ''), 'marks' => $marks[0]];
    }
}
