<?php

declare(strict_types=1);

namespace Pellix\Core\Pages;

use Sabberworm\CSS\CSSList\AtRuleBlockList;
use Sabberworm\CSS\CSSList\CSSList;
use Sabberworm\CSS\Parser;
use Sabberworm\CSS\Parsing\SourceException;
use Sabberworm\CSS\RuleSet\DeclarationBlock;
use Sabberworm\CSS\Settings;

/** The declarations of a style sheet that always hold on a screen: those of `print`, of states and of generated parts are left out. */
final readonly class SheetRules
{
    public const MOST_BYTES = 500_000;

    private const MOST_RULES = 10_000;

    /** @param list<SheetDeclaration> $all in the order of the sheet */
    private function __construct(public array $all)
    {
    }

    /**
     * @param string $name  by which the sheet is told of: its address, or where it stands
     * @param int    $lines before it, where it stands within a page
     */
    public static function read(string $css, string $name, int $lines = 0): self
    {
        if (strlen($css) > self::MOST_BYTES) {
            return new self([]);
        }
        try {
            $sheet = (new Parser($css, Settings::create()->withLenientParsing(true)))->parse();
        } catch (SourceException) {
            return new self([]);
        }
        $all = [];
        self::collect($sheet, $name, $lines, $all);

        return new self($all);
    }

    /** @param list<SheetDeclaration> $all */
    private static function collect(CSSList $list, string $name, int $lines, array &$all): void
    {
        foreach ($list->getContents() as $part) {
            if ($part instanceof AtRuleBlockList && in_array(strtolower($part->atRuleName()), ['media', 'supports', 'layer'], true) && self::isForScreens($part)) {
                self::collect($part, $name, $lines, $all);
            }
            if (! $part instanceof DeclarationBlock || count($all) >= self::MOST_RULES) {
                continue;
            }
            foreach ($part->getSelectors() as $selector) {
                $text = $selector->getSelector();
                if (preg_match('/:(?:hover|focus|active|visited|target|checked|disabled|placeholder)|::|:(?:before|after)\b/', $text) === 1) {
                    continue;
                }
                foreach ($part->getRules() as $rule) {
                    $value = $rule->getValue();
                    $all[] = new SheetDeclaration(
                        $text,
                        $selector->getSpecificity(),
                        strtolower($rule->getRule()),
                        is_object($value) ? $value->render(\Sabberworm\CSS\OutputFormat::create()) : (string) $value,
                        $rule->getIsImportant(),
                        $name,
                        $lines + (int) $rule->getLineNumber(),
                    );
                }
            }
        }
    }

    private static function isForScreens(AtRuleBlockList $block): bool
    {
        return strtolower($block->atRuleName()) !== 'media' || preg_match('/\bprint\b/i', (string) $block->atRuleArgs()) !== 1;
    }
}
