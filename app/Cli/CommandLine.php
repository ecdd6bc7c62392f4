<?php

declare(strict_types=1);

namespace App\Cli;

/** The words of a command line: `--name=value` and `--name` apart from the rest. A negative number is not an option. */
final readonly class CommandLine
{
    /**
     * @param array<string, string|true> $options
     * @param list<string>               $words
     */
    private function __construct(private array $options, public array $words)
    {
    }

    /**
     * @param list<string> $arguments
     * @param list<string> $valued    options that take a value
     * @param list<string> $flags     options that take none
     *
     * @throws BadUsage
     */
    public static function parse(array $arguments, array $valued, array $flags): self
    {
        $options = $words = [];
        foreach ($arguments as $argument) {
            if (! str_starts_with($argument, '--')) {
                $words[] = $argument;
                continue;
            }
            [$name, $value] = explode('=', substr($argument, 2), 2) + [1 => true];
            if (! in_array($name, $value === true ? $flags : $valued, true)) {
                throw new BadUsage(in_array($name, $valued, true) ? "--{$name} takes a value: --{$name}=…" : "There is no option {$argument}.");
            }
            $options[$name] = $value;
        }

        return new self($options, $words);
    }

    public function value(string $name): ?string
    {
        $value = $this->options[$name] ?? null;

        return is_string($value) ? $value : null;
    }

    public function has(string $flag): bool
    {
        return isset($this->options[$flag]);
    }
}
