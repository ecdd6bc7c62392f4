<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Rehearsals\Browser\CommandFailed;
use App\Rehearsals\Browser\Tab;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Rehearsal\Cascade;
use Pellix\Core\Rehearsal\Declaration;

/** Which declarations the browser holds for an element, and which of the variant's own are outranked. */
final class Styles
{
    private const MOST_ELEMENTS = 3;
    private const MOST_PROPERTIES = 30;

    /** @var array<string, array<string, mixed>> sheet => what the browser says of it */
    private array $sheets = [];

    /** @var array<string, string> sheet => its text, as far as it was asked for */
    private array $texts = [];

    /** @var list<string> declarations of the change that is looked at which the browser does not understand */
    private array $unread = [];

    public function __construct(private readonly Tab $tab)
    {
        $tab->onStyleSheet(function (array $header): void {
            if (count($this->sheets) < 500) {
                $this->sheets[(string) $header['styleSheetId']] = $header;
            }
        });
        $tab->execute('CSS.enable');
    }

    /**
     * @param int $place of the change among those that the page's probe was given
     *
     * @return array{
     *     outranked: list<array{element: string, loser: Declaration, winner: Declaration}>,
     *     unheeded: list<array{element: string, property: string, wanted: string, is: string, by: string|null}>,
     *     styleless: list<string>,
     *     unread: list<string>,
     * } what is outranked by a rule, and by an animation; classes that no rule asks for; declarations that the browser does not understand
     */
    public function of(Change $change, int $place): array
    {
        $outranked = $unheeded = $styleless = [];
        $this->unread = [];
        foreach ($this->wanted($change, $place) as [$element, $path, $properties]) {
            try {
                $declared = $this->declarations($element, $change);
            } catch (CommandFailed) {
                // The element has gone meanwhile: that it is not kept is told by itself.
                continue;
            }
            if ($change->kind === ChangeKind::Classes) {
                [$properties, $missing] = self::ofClasses($declared, $change->names('add'));
                $styleless = [...$styleless, ...$missing];
            }
            $lost = [];
            $properties = array_slice(array_unique($properties), 0, self::MOST_PROPERTIES);
            foreach ($properties as $property) {
                $own = array_values(array_filter($declared[$property] ?? [], static fn (Declaration $one): bool => $one->isOurs));
                $winner = Cascade::winner($declared[$property] ?? []);
                $loser = Cascade::winner($own);
                if ($winner === null || $loser === null) {
                    continue;
                }
                if (! $winner->isOurs && $winner->value !== $loser->value) {
                    $lost[] = ['element' => $path, 'loser' => $loser, 'winner' => $winner];
                } elseif ($winner->isOurs) {
                    $shown = $this->shown($element, $loser);
                    $shown === null || $unheeded[] = ['element' => $path, 'property' => $property, 'wanted' => $loser->value, ...$shown];
                }
            }
            // A class brings what it brings: only where nothing of it shows is it certain that something was wanted.
            $outranked = [...$outranked, ...$change->kind === ChangeKind::Classes && count($lost) < count($properties) ? [] : $lost];
        }

        return ['outranked' => $outranked, 'unheeded' => $unheeded, 'styleless' => array_values(array_unique($styleless)), 'unread' => array_values(array_unique($this->unread))];
    }

    /** @return array{is: string, by: string|null}|null what an element shows where an animation outranks the winning rule; null where nothing does */
    private function shown(string $element, Declaration $winner): ?array
    {
        $found = $this->tab->call($element, Probe::named('heeded'), $winner->property, $winner->value, $winner->important);
        $found = is_array($found) ? $found : [];
        foreach ((array) ($found['undefined'] ?? []) as $name) {
            $this->unread[] = "{$winner->property}: {$winner->value} ({$name} is not set there)";
        }

        return isset($found['by']) ? ['is' => (string) ($found['is'] ?? ''), 'by' => (string) $found['by']] : null;
    }

    /** @return list<array{string, string, list<string>}> element, its path, properties that the change sets on it */
    private function wanted(Change $change, int $place): array
    {
        $all = [];
        if ($change->kind === ChangeKind::Sheet) {
            $rules = (array) $this->tab->evaluate("pellixWatch.asked.details()[{$place}].rules", true);
            foreach (array_slice($rules, 0, 10) as $rule) {
                $selector = json_encode($rule['selector'], JSON_THROW_ON_ERROR);
                $all = [...$all, ...$this->elements("pellixWatch.asked.find({$selector})", $rule['properties'])];
            }

            return $all;
        }
        $properties = match ($change->kind) {
            ChangeKind::Style => [$change->text('property')],
            ChangeKind::Hide => ['display'],
            ChangeKind::Classes => [],
            default => null,
        };

        return $properties === null ? [] : $this->elements("pellixWatch.asked.seenOn(pellixPlan.changes[{$place}])", $properties);
    }

    /**
     * @param list<string> $properties
     *
     * @return list<array{string, string, list<string>}>
     */
    private function elements(string $found, array $properties): array
    {
        $all = [];
        for ($i = 0; $i < self::MOST_ELEMENTS; $i++) {
            $element = $this->tab->handle("{$found}[{$i}]");
            if ($element === null) {
                break;
            }
            $all[] = [$element, (string) $this->tab->evaluate("pellixWatch.asked.path({$found}[{$i}])", true), $properties];
        }

        return $all;
    }

    /** @return array<string, list<Declaration>> property => its declarations for the element */
    private function declarations(string $element, Change $change): array
    {
        $node = (int) $this->tab->execute('DOM.requestNode', ['objectId' => $element])['nodeId'];
        if ($node === 0) {
            $this->tab->execute('DOM.getDocument', ['depth' => 0]);
            $node = (int) $this->tab->execute('DOM.requestNode', ['objectId' => $element])['nodeId'];
        }
        $styles = $this->tab->execute('CSS.getMatchedStylesForNode', ['nodeId' => $node]);
        $layers = $this->layers($node);
        $all = [];
        $order = 0;
        foreach ((array) ($styles['matchedCSSRules'] ?? []) as $match) {
            $rule = (array) $match['rule'];
            $selectors = (array) $rule['selectorList']['selectors'];
            $matching = array_map(static fn (int $i): array => (array) ($selectors[$i] ?? []), (array) $match['matchingSelectors']);
            usort($matching, static fn (array $a, array $b): int => self::specificity($b) <=> self::specificity($a));
            $strongest = $matching[0] ?? [];
            $sheet = (string) ($rule['styleSheetId'] ?? '');
            $isOurs = $change->kind === ChangeKind::Sheet ? $this->text($sheet) === $change->text('value') : ($change->kind === ChangeKind::Classes && self::asksFor((string) ($strongest['text'] ?? ''), $change->names('add')));
            $layer = $rule['layers'] ?? [];
            $this->add($all, (array) $rule['style'], (string) ($strongest['text'] ?? '?'), self::specificity($strongest), match ($rule['origin']) {
                'user-agent' => 'user-agent',
                'injected' => 'user',
                default => 'author',
            }, $layer === [] ? null : ($layers[implode('.', array_reverse(array_column($layer, 'text')))] ?? 0), ++$order, $sheet, $isOurs, $isOurs && $change->kind === ChangeKind::Sheet);
        }
        if (isset($styles['inlineStyle'])) {
            $this->add($all, (array) $styles['inlineStyle'], '', [0, 0, 0], 'author', null, ++$order, '', in_array($change->kind, [ChangeKind::Style, ChangeKind::Hide], true));
        }

        return $all;
    }

    /**
     * @param array<string, list<Declaration>> $all
     * @param array<string, mixed>             $style
     * @param array{int, int, int}             $specificity
     * @param 'author'|'user'|'user-agent'     $origin
     */
    private function add(array &$all, array $style, string $selector, array $specificity, string $origin, ?int $layer, int $order, string $sheet, bool $isOurs, bool $isAdded = false): void
    {
        $header = $this->sheets[$sheet] ?? [];
        foreach ((array) $style['cssProperties'] as $property) {
            if (! ($property['parsedOk'] ?? true) && $isOurs) {
                $this->unread[] = "{$property['name']}: {$property['value']}";
            }
            if (($property['disabled'] ?? false) || ! ($property['parsedOk'] ?? true)) {
                continue;
            }
            $line = $property['range']['startLine'] ?? $style['range']['startLine'] ?? null;
            $all[(string) $property['name']][] = new Declaration(
                (string) $property['name'],
                trim((string) preg_replace('/\s*!important\s*\z/i', '', (string) $property['value'])),
                (bool) ($property['important'] ?? false) || str_contains(strtolower((string) $property['value']), '!important'),
                $selector,
                $specificity,
                $origin,
                $layer,
                $order,
                ($header['isInline'] ?? false) || ($header['isConstructed'] ?? false) ? '' : (string) ($header['sourceURL'] ?? ''),
                $line === null ? null : 1 + (int) $line + (int) (($header['isInline'] ?? false) ? ($header['startLine'] ?? 0) : 0),
                $isOurs,
                $isAdded,
            );
        }
    }

    /**
     * @param array<string, list<Declaration>> $declared
     * @param list<string>                     $classes
     *
     * @return array{list<string>, list<string>} properties that the classes set, and classes that set nothing
     */
    private static function ofClasses(array $declared, array $classes): array
    {
        $properties = [];
        $missing = $classes;
        foreach ($declared as $property => $all) {
            foreach ($all as $one) {
                if ($one->isOurs) {
                    $properties[] = $property;
                    $missing = array_filter($missing, static fn (string $class): bool => ! self::asksFor($one->selector, [$class]));
                }
            }
        }

        return [$properties, array_values($missing)];
    }

    /** @param list<string> $classes */
    private static function asksFor(string $selector, array $classes): bool
    {
        foreach ($classes as $class) {
            if (preg_match('/\.'.preg_quote($class, '/').'(?![\w-])/', $selector) === 1) {
                return true;
            }
        }

        return false;
    }

    /** @return array<string, int> name of a layer, with those around it => its place */
    private function layers(int $node): array
    {
        try {
            $root = (array) ($this->tab->execute('CSS.getLayersForNode', ['nodeId' => $node])['rootLayer'] ?? []);
        } catch (CommandFailed) {
            return [];
        }
        $all = [];
        $walk = static function (array $layer, string $stem) use (&$walk, &$all): void {
            foreach ((array) ($layer['subLayers'] ?? []) as $sub) {
                $name = ltrim("{$stem}.{$sub['name']}", '.');
                $all[$name] = (int) $sub['order'];
                $walk((array) $sub, $name);
            }
        };
        $walk($root, '');

        return $all;
    }

    private function text(string $sheet): string
    {
        if ($sheet !== '' && ! isset($this->texts[$sheet])) {
            try {
                $this->texts[$sheet] = (string) $this->tab->execute('CSS.getStyleSheetText', ['styleSheetId' => $sheet])['text'];
            } catch (CommandFailed) {
                $this->texts[$sheet] = '';
            }
        }

        return $this->texts[$sheet] ?? '';
    }

    /**
     * @param array<string, mixed> $selector
     *
     * @return array{int, int, int}
     */
    private static function specificity(array $selector): array
    {
        $of = (array) ($selector['specificity'] ?? []);

        return [(int) ($of['a'] ?? 0), (int) ($of['b'] ?? 0), (int) ($of['c'] ?? 0)];
    }
}
