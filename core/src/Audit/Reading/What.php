<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

/** What an event is, as far as many others are the same: made of its cell once, and shared. */
final readonly class What
{
    private const MOST_REMEMBERED = 20_000;

    /** Name and page together. */
    public string $event;

    public string $host;

    /** @var array{string, string, string, string} device, browser, source and country */
    public array $parts;

    /** Device and browser. */
    public string $machine;

    /**
     * @param string $name    as a cell
     * @param string $page    host and path, as a cell
     * @param string $context device, browser, source and country, parted by `Row::PART`
     * @param int    $flags   see `Row`
     * @param int    $goals   bit by bit, the goals that it may be a hit of
     */
    private function __construct(public string $name, public string $page, public string $context, public int $flags, public int $goals)
    {
        $this->event = $name.Row::BREAK.$page;
        $text = Row::text($page);
        $this->host = strtok($text, '/') ?: $text;
        $parts = explode(Row::PART, $context) + ['', '', '', ''];
        $this->parts = [$parts[0], $parts[1], $parts[2], $parts[3]];
        $this->machine = $parts[0].Row::PART.$parts[1];
    }

    public static function of(string $cell): self
    {
        /** @var array<string, self> $known */
        static $known = [];
        if (isset($known[$cell])) {
            return $known[$cell];
        }
        if (count($known) >= self::MOST_REMEMBERED) {
            $known = [];
        }
        [$name, $page, $context, $flags, $goals] = explode(Row::BREAK, $cell, 5) + ['', '', '', '0', '0'];

        return $known[$cell] = new self($name, $page, $context, (int) $flags, (int) $goals);
    }

    public function has(int $flag): bool
    {
        return ($this->flags & $flag) !== 0;
    }
}
