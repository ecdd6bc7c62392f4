<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

use Pellix\Core\InvalidInput;

/**
 * Reads the members of one decoded JSON object by name and type, complaining through the caller's own exception.
 *
 * @template E of InvalidInput
 */
final readonly class Fields
{
    /** @var array<string, mixed> */
    private array $values;

    /** @var \ArrayObject<string, true> members that somebody has asked for */
    private \ArrayObject $asked;

    /**
     * @param class-string<E> $complaint
     *
     * @throws InvalidInput
     */
    public function __construct(mixed $json, private string $complaint, string $what)
    {
        if (! is_array($json) || ($json !== [] && array_is_list($json))) {
            throw new $complaint("{$what} is a JSON object.");
        }
        /** @var array<string, mixed> $json */
        $this->values = $json;
        /** @var \ArrayObject<string, true> $asked */
        $asked = new \ArrayObject();
        $this->asked = $asked;
    }

    /** The complaint about one member, for whoever finds it wrong. */
    public function complaint(string $message, string $name): InvalidInput
    {
        return new $this->complaint($message, $name);
    }

    public function has(string $name): bool
    {
        return $this->raw($name) !== null;
    }

    public function raw(string $name): mixed
    {
        $this->asked[$name] = true;

        return $this->values[$name] ?? null;
    }

    /**
     * Refuses a member that nobody has asked for: it would be taken and then lost. To be called when everything was read.
     *
     * @throws InvalidInput
     */
    public function nothingElse(): void
    {
        foreach ($this->values as $name => $value) {
            if ($value !== null && ! isset($this->asked[$name])) {
                throw new $this->complaint('There is no such member here, and it would be lost. There may be '.implode(', ', array_keys($this->asked->getArrayCopy())).'.', (string) $name);
            }
        }
    }

    /** A text of 1 to `$most` characters; `$default` where it is missing, and required where the default is null. */
    public function text(string $name, int $most = 200, ?string $default = null): string
    {
        $value = $this->raw($name) ?? $default;
        if (! is_string($value) || ($value === '' && $default !== '') || mb_strlen($value) > $most) {
            throw new $this->complaint("A text of 1 to {$most} characters is needed.", $name);
        }

        return $value;
    }

    /** A text that matches a pattern. */
    public function pattern(string $name, string $pattern, string $wanted): string
    {
        $value = $this->raw($name);
        if (! is_string($value) || preg_match($pattern, $value) !== 1) {
            throw new $this->complaint($wanted, $name);
        }

        return $value;
    }

    /**
     * One of a few words.
     *
     * @param non-empty-list<string> $words
     */
    public function word(string $name, array $words, string $default): string
    {
        $value = $this->raw($name) ?? $default;
        if (! is_string($value) || ! in_array($value, $words, true)) {
            throw new $this->complaint('One of '.implode(', ', $words).' is needed.', $name);
        }

        return $value;
    }

    public function number(string $name, ?float $default = null): float
    {
        $value = $this->raw($name) ?? $default;
        if (! is_int($value) && ! is_float($value)) {
            throw new $this->complaint('A number is needed.', $name);
        }

        return (float) $value;
    }

    public function flag(string $name): bool
    {
        $value = $this->raw($name) ?? false;
        if (! is_bool($value)) {
            throw new $this->complaint('true or false is needed.', $name);
        }

        return $value;
    }

    /** @return list<mixed> empty where it is missing */
    public function list(string $name): array
    {
        $value = $this->raw($name) ?? [];
        if (! is_array($value) || ! array_is_list($value)) {
            throw new $this->complaint('A list is needed.', $name);
        }

        return $value;
    }

    /** A moment in RFC 3339, or null where it is missing. */
    public function moment(string $name): ?\DateTimeImmutable
    {
        $value = $this->raw($name);
        if ($value === null) {
            return null;
        }
        $moment = is_string($value) ? Moment::parse($value) : null;
        if ($moment === null) {
            throw new $this->complaint('A time in RFC 3339 is needed, such as 2026-03-02T00:00:00Z.', $name);
        }

        return $moment;
    }

    /**
     * Reads a member with a reader of its own, and puts the member's name before whatever that complains about.
     *
     * @template T
     *
     * @param callable(mixed): T $reader
     *
     * @return T
     */
    public function part(string $name, callable $reader): mixed
    {
        return self::within($name, fn () => $reader($this->raw($name)), $this->complaint);
    }

    /**
     * Runs a reader, and puts a name before whatever it complains about.
     *
     * @template T
     * @template C of InvalidInput
     *
     * @param callable(): T   $reader
     * @param class-string<C> $complaint
     *
     * @return T
     */
    public static function within(string $name, callable $reader, string $complaint): mixed
    {
        try {
            return $reader();
        } catch (InvalidInput $e) {
            $under = $e->under($name);
            throw new $complaint($under->getMessage(), $under->field);
        }
    }
}
