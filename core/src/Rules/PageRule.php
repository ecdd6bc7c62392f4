<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** A rule on a page's address alone, so that the browser, the collector's log and a list of addresses all answer alike. */
final class PageRule
{
    /** So many answers are remembered: pages come up again and again. */
    private const REMEMBERED = 2000;

    /** @var array<string, bool> address without query and fragment => answer */
    private array $answers = [];

    private function __construct(public readonly Rule $rule, private readonly bool $looksAtPathAlone)
    {
    }

    /** @throws InvalidRule when the rule asks for more than an address can tell */
    public static function of(Rule $rule): self
    {
        $pathAlone = true;
        foreach ($rule->conditions() as $condition) {
            self::check($condition);
            $pathAlone = $pathAlone && in_array($condition->fact, ['url.path', 'url.host'], true);
        }

        return new self($rule, $pathAlone);
    }

    private static function check(Condition $condition): void
    {
        if (! str_starts_with($condition->fact, 'url.')) {
            throw new InvalidRule("A page rule looks at the address only; \"{$condition->fact}\" belongs in the audience rule.", 'fact');
        }
        // The commonest slip: a whole address, or a path without its slash, where no path could ever match.
        $fromTheStart = in_array($condition->op, [Op::Is, Op::Starts], true);
        if ($condition->fact === 'url.path' && $fromTheStart && is_string($condition->value) && ! str_starts_with($condition->value, '/')) {
            throw new InvalidRule('A path begins with "/"; leave out everything up to the host, such as https://host.', 'value');
        }
    }

    /** @throws InvalidRule */
    public static function read(mixed $json): self
    {
        return self::of(RuleReader::read($json));
    }

    public function matches(string $url): bool
    {
        if (! $this->looksAtPathAlone) {
            return $this->rule->matches(AddressFacts::of($url));
        }
        $page = substr($url, 0, strcspn($url, '?#'));
        if (! isset($this->answers[$page])) {
            if (count($this->answers) >= self::REMEMBERED) {
                $this->answers = [];
            }
            $this->answers[$page] = $this->rule->matches(AddressFacts::of($page));
        }

        return $this->answers[$page];
    }
}
