<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

/**
 * How a site's experiments are named: a text with `{year}`, `{month}`, `{day}`, `{page}`, `{number}` (a running number) and
 * `{name}` (what somebody types). It suggests and checks; it never refuses a name.
 */
final readonly class NamingPattern
{
    public const TOKENS = [
        'year' => '\d{4}',
        'month' => '\d{2}',
        'day' => '\d{2}',
        'number' => '\d{2,6}',
        'page' => '[\p{L}\p{N}._-]+',
        'name' => '\S(?:.*\S)?',
    ];

    private const LONGEST = 120;

    private function __construct(public string $template)
    {
    }

    /** @throws InvalidExperiment */
    public static function read(string $template): self
    {
        $template = trim($template);
        if ($template === '' || mb_strlen($template) > self::LONGEST) {
            throw new InvalidExperiment('A naming pattern has 1 to '.self::LONGEST.' characters.', 'naming');
        }
        preg_match_all('/\{([^{}]*)\}/', $template, $m);
        foreach ($m[1] as $token) {
            if (! isset(self::TOKENS[$token])) {
                throw new InvalidExperiment("There is no part \"{{$token}}\"; there are ".implode(', ', array_map(static fn (string $one): string => "{{$one}}", array_keys(self::TOKENS))).'.', 'naming');
            }
        }
        if (substr_count($template, '{name}') !== 1) {
            throw new InvalidExperiment('The pattern holds "{name}" once: it stands for what somebody types.', 'naming');
        }

        return new self($template);
    }

    /**
     * @param string $name   what somebody typed
     * @param string $path   of the page, such as `/join/loan`
     * @param int    $number the next running number of the site
     */
    public function suggest(string $name, string $path, int $number, \DateTimeInterface $day): string
    {
        $page = trim((string) preg_replace('/[^\p{L}\p{N}._-]+/u', '-', (string) preg_replace('/[?#].*/s', '', $path)), '-');

        return strtr($this->template, [
            '{year}' => $day->format('Y'), '{month}' => $day->format('m'), '{day}' => $day->format('d'),
            '{page}' => $page === '' ? 'home' : $page, '{number}' => sprintf('%03d', $number), '{name}' => trim($name),
        ]);
    }

    public function fits(string $name): bool
    {
        $pattern = implode('', array_map(
            static fn (string $part): string => preg_match('/\A\{(\w+)\}\z/', $part, $m) === 1 ? self::TOKENS[$m[1]] : preg_quote($part, '/'),
            preg_split('/(\{\w+\})/', $this->template, -1, PREG_SPLIT_DELIM_CAPTURE | PREG_SPLIT_NO_EMPTY) ?: [],
        ));

        return preg_match("/\\A{$pattern}\\z/u", trim($name)) === 1;
    }
}
