<?php

use Pellix\Core\Rules\InvalidRule;
use Pellix\Core\Rules\Pattern;

const TEST_IN_CHROMIUM = <<<'JS'
    return arguments[0].map(([pattern, texts]) => {
        try {
            const expression = new RegExp(pattern, 'su');
            return texts.map((text) => expression.test(text));
        } catch (error) {
            return String(error);
        }
    });
    JS;

it('answers as Chromium does, for ten thousand patterns that are accepted', function () {
    mt_srand(12);
    $atoms = [
        'a', 'b', 'shelf', '/', '-', ':', '.', '=', '&', '~', '#', '@', ',', ' ', 'é', '😀', '\\.', '\\/', '\\d', '\\w', '\\*', '\\[', '\\{', '\\|', '\\^', '^', '$', '[ab]', '[^/]', '[a-z]', '[^a-z0-9]', '[\\d-]', '[-\\w]', '[\\w.]', '[:alpha:]',
        '[.x.]', '[=a=]', '[a&&b]', '[~-]', '[!--]', '[é-ž]', '[^😀]', '[\\]\\\\]', '[\\^a]', '[a\\-z]', '[\\w-.]', '[\\d-x]', '[z-a]', '[]', '[[:digit:]]', '(?=a)', '\\b', '\\s', '(a', 'b)', '{', '}', ']',
    ];
    $signs = ['', '', '', '', '*', '+', '?', '{2}', '{1,3}', '{0,2}', '{3,}', '{100}', '*?', '++', '{2,1}', '{,3}'];
    $texts = ['', '/', 'a', 'ab', 'shelf', '/shelf/12', '/shelf/é', "a\nb", 'A', 'a-b', ':', '.x.', 'é', '😀', "\u{e9}\u{17e}", '2026-03', 'aaaaaaaaaa', '~a=b&c', 'x]', '\\', "\u{2028}", '-', '__', "\0", 'ž'];
    $piece = function (int $depth) use (&$piece, $atoms, $signs): string {
        $text = '';
        for ($i = mt_rand(1, 4); $i > 0; $i--) {
            $atom = $depth > 0 && mt_rand(0, 4) === 0 ? (mt_rand(0, 1) ? '(' : '(?:').$piece($depth - 1).(mt_rand(0, 2) ? '' : '|'.$piece($depth - 1)).')' : $atoms[array_rand($atoms)];
            $text .= $atom.$signs[array_rand($signs)];
        }

        return $text;
    };
    $accepted = [];
    while (count($accepted) < 10_000) {
        $source = (mt_rand(0, 1) ? '^' : '').$piece(2).(mt_rand(0, 5) ? '' : '|'.$piece(1));
        try {
            $accepted[$source] = Pattern::compile($source);
        } catch (InvalidRule) {
            // Refused: the browser is never asked.
        }
    }
    $browser = $this->open();
    $browser->get('about:blank');
    $differing = [];
    foreach (array_chunk($accepted, 1000, true) as $chunk) {
        $asked = array_map(fn (string|int $source): array => [(string) $source, $texts], array_keys($chunk));
        $answers = $browser->executeScript(TEST_IN_CHROMIUM, [$asked]);
        foreach (array_values($chunk) as $i => $compiled) {
            $ours = array_map(fn (string $text): bool => Pattern::matches($compiled, $text), $texts);
            if ($answers[$i] !== $ours) {
                $differing[] = [$asked[$i][0], is_array($answers[$i]) ? array_keys(array_diff_assoc($ours, $answers[$i])) : $answers[$i]];
            }
        }
    }
    expect(array_slice($differing, 0, 10))->toBe([], count($differing).' patterns differ');
});
