<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

/** What an event is, as far as many others are the same: made of its cell once, and shared. */
final readonly class What
{
    private const MOST_REMEMBERED = 20_000;

    /**
     * @param string $name    as a cell
     * @param string $page    host and path, as a cell
     * @param string $host    as a text
     * @param string $event   name and page together
     * @param string $spot    name and host together
     * @param string $context device, browser, source and country, parted by `Row::PART`
     * @param list<string> $parts these four
     * @param string $machine device and browser together
     * @param int    $flags   see `Row`
     * @param int    $goals   bit by bit, the goals that it may be a hit of
     */
    private function __construct(public string $name, public string $page, public string $host, public string $event, public string $spot, public string $context, public array $parts, public string $machine, public int $flags, public int $goals)
    {
    }

    public static function of(string $cell): self
    {
        /** @var array<string, self> $known */
        static $known = [];
        /** @var array<string, array{list<string>, string}> $contexts context => its parts, device and browser together */
        static $contexts = [];
        /** @var array<string, string> $pages page => its host */
        static $pages = [];
        if (isset($known[$cell])) {
            return $known[$cell];
        }
        // Of a site with many pages there are too many to remember all; their pages and contexts by themselves are fewer.
        if (count($known) >= self::MOST_REMEMBERED || count($contexts) >= self::MOST_REMEMBERED || count($pages) >= self::MOST_REMEMBERED) {
            $known = $contexts = $pages = [];
        }
        [$name, $page, $context, $flags, $goals] = explode(Row::BREAK, $cell, 5) + ['', '', '', '0', '0'];
        [$parts, $machine] = $contexts[$context] ??= self::context($context);
        $host = $pages[$page] ??= self::host($page);

        return $known[$cell] = new self($name, $page, $host, $name.Row::BREAK.$page, $name.Row::BREAK.$host, $context, $parts, $machine, (int) $flags, (int) $goals);
    }

    /** @return array{list<string>, string} */
    private static function context(string $context): array
    {
        $parts = array_slice(explode(Row::PART, $context) + ['', '', '', ''], 0, 4);

        return [$parts, $parts[0].Row::PART.$parts[1]];
    }

    private static function host(string $page): string
    {
        $text = Row::text($page);

        return strtok($text, '/') ?: $text;
    }

    public function has(int $flag): bool
    {
        return ($this->flags & $flag) !== 0;
    }
}
