import { is } from './kinds';
import { listed } from './specificity';

/** A style rule that may apply, where it stands, and in which layer. */
export interface Applying {
    rule: CSSStyleRule;
    /** Without what stands for an enclosing rule's selector. */
    selector: string;
    sheet: CSSStyleSheet;
    /** Places of its layer and of those around it, in the order in which they were first named; in none at the end. */
    layer: number[];
    order: number;
    /** Conditions that cannot be asked here, and are taken to hold. */
    unsure: string;
}

export interface Walked {
    rules: Applying[];
    /** Addresses of sheets of other origins, which a page may not read. */
    closed: string[];
}

const MOST_RULES = 50_000;

interface Around {
    sheet: CSSStyleSheet;
    parent: string;
    layer: string[];
    unsure: string;
}

/** All style rules of the page whose conditions hold now, in the order of the cascade. */
export function walk(page: Document): Walked {
    // A page in a frame is as wide as the frame.
    const view = page.defaultView ?? window;
    const found: (Applying & { names: string[] })[] = [];
    const closed: string[] = [];
    const layers = new Map<string, Map<string, number>>();
    let nameless = 0;
    const declare = (path: string[]): void =>
        path.forEach((name, i) => {
            const around = path.slice(0, i).join('\n');
            const own = layers.get(around) ?? new Map<string, number>();
            layers.set(around, own);
            own.set(name, own.get(name) ?? own.size);
        });
    const inSheet = (sheet: CSSStyleSheet, layer: string[]): void => {
        if (sheet.disabled || (sheet.media.mediaText && !view.matchMedia(sheet.media.mediaText).matches)) {
            return;
        }
        let rules: CSSRuleList;
        try {
            rules = sheet.cssRules;
        } catch {
            closed.push(sheet.href ?? 'a style sheet of another origin');

            return;
        }
        inRules(rules, { sheet, parent: '', layer, unsure: '' });
    };
    const inRules = (rules: CSSRuleList, around: Around): void => {
        for (const rule of Array.from(rules)) {
            if (found.length >= MOST_RULES) {
                return;
            }
            inRule(rule, around);
        }
    };
    const inRule = (rule: CSSRule, around: Around): void => {
        if (is(rule, 'CSSStyleRule')) {
            const selector = nested(rule.selectorText, around.parent);
            found.push({ rule, selector, sheet: around.sheet, layer: [], names: around.layer, order: found.length, unsure: around.unsure });
            inRules(rule.cssRules, { ...around, parent: selector });
        } else if (is(rule, 'CSSMediaRule')) {
            if (view.matchMedia(rule.media.mediaText).matches) {
                inRules(rule.cssRules, around);
            }
        } else if (is(rule, 'CSSSupportsRule')) {
            if (CSS.supports(rule.conditionText)) {
                inRules(rule.cssRules, around);
            }
        } else if (is(rule, 'CSSImportRule')) {
            if (rule.styleSheet && (!rule.media.mediaText || view.matchMedia(rule.media.mediaText).matches)) {
                const name = (rule as CSSImportRule & { layerName?: string | null }).layerName ?? null;
                const layer = name === null ? around.layer : [...around.layer, ...(name === '' ? [`${nameless++}`] : name.split('.'))];
                declare(layer);
                inSheet(rule.styleSheet, layer);
            }
        } else if (is(rule, 'CSSLayerStatementRule')) {
            rule.nameList.forEach((name) => declare([...around.layer, ...name.split('.')]));
        } else if (is(rule, 'CSSLayerBlockRule')) {
            const layer = [...around.layer, ...(rule.name === '' ? [`${nameless++}`] : rule.name.split('.'))];
            declare(layer);
            inRules(rule.cssRules, { ...around, layer });
        } else if (rule.cssText.startsWith('@container') || rule.cssText.startsWith('@scope')) {
            inRules((rule as CSSGroupingRule).cssRules, { ...around, unsure: rule.cssText.slice(0, rule.cssText.indexOf('{')).trim() });
        }
    };
    for (const sheet of [...Array.from(page.styleSheets), ...page.adoptedStyleSheets]) {
        inSheet(sheet, []);
    }

    // Where a layer comes is known once all have been named.
    return {
        closed,
        rules: found.map(({ names, ...one }) => ({
            ...one,
            layer: [...names.map((name, i) => layers.get(names.slice(0, i).join('\n'))?.get(name) ?? 0), Infinity],
        })),
    };
}

/** A nested rule's selector as one of its own (CSS Nesting, 3). */
function nested(selector: string, parent: string): string {
    if (!parent) {
        return selector;
    }

    return listed(selector)
        .map((one) => (one.includes('&') ? one.replaceAll('&', `:is(${parent})`) : `:is(${parent}) ${one}`))
        .join(', ');
}
