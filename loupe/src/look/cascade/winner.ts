import { is } from './kinds';
import { compare, listed, specificity, type Specificity } from './specificity';
import type { Applying, Walked } from './walk';

/** A declaration that an element could get. */
export interface Declared {
    property: string;
    value: string;
    isImportant: boolean;
    by: 'rule' | 'attribute' | 'animation' | 'transition';
    selector: string;
    specificity: Specificity;
    layer: number[];
    order: number;
    at: Applying | null;
    /** The element that has it: the one that was asked for, or the one that it inherits from. */
    element: Element;
    /** Name of the animation. */
    name: string;
}

/** Properties that elements inherit (CSS 2.2, and the modules that followed it), beside all that begin with these and custom ones. */
const INHERITED =
    /^(?:--.*|color|cursor|direction|visibility|quotes|orphans|widows|hyphens|tab-size|fill|stroke|caret-color|accent-color|pointer-events|border-collapse|border-spacing|caption-side|empty-cells|line-height|letter-spacing|white-space.*|word-.*|overflow-wrap|font.*|list-style.*|text-(?:align|indent|transform|shadow|wrap|rendering|align-last).*)$/;

export function isInherited(property: string): boolean {
    return INHERITED.test(property);
}

/** What an element itself is declared to have, in any order. */
export function declaredOf(element: Element, property: string, { rules }: Walked): Declared[] {
    const all: Declared[] = [];
    for (const at of rules) {
        const value = valueOf(at.rule.style, property);
        const own = value === null ? [] : listed(at.selector).filter((one) => matches(element, one));
        if (value !== null && own.length > 0) {
            // Of a list of selectors, the one that counts most.
            const selector = own.reduce((best, one) => (compare(specificity(one), specificity(best)) > 0 ? one : best));
            const more = { by: 'rule', selector, specificity: specificity(selector), layer: at.layer, order: at.order, at } as const;
            all.push(made(element, property, value, at.rule.style.getPropertyPriority(property) === 'important', more));
        }
    }
    const style = (element as HTMLElement).style;
    const inline = style ? valueOf(style, property) : null;
    if (inline !== null) {
        all.push(made(element, property, inline, style.getPropertyPriority(property) === 'important', { by: 'attribute' }));
    }

    return [...all, ...animated(element, property)];
}

function made(
    element: Element,
    property: string,
    value: string,
    isImportant: boolean,
    more: Partial<Declared> & Pick<Declared, 'by'>,
): Declared {
    return {
        property,
        value,
        isImportant,
        selector: '',
        specificity: [0, 0, 0],
        layer: [Infinity],
        order: 0,
        at: null,
        name: '',
        element,
        ...more,
    };
}

/** The value of a longhand; of a shorthand with a variable in it, what was written for the shorthand. Null where nothing is declared. */
function valueOf(style: CSSStyleDeclaration, property: string): string | null {
    const value = style.getPropertyValue(property);
    if (value !== '') {
        return value;
    }
    for (let i = 0; i < style.length; i++) {
        if (style[i] === property) {
            for (let dash = property.lastIndexOf('-'); dash > 0; dash = property.lastIndexOf('-', dash - 1)) {
                const shorthand = style.getPropertyValue(property.slice(0, dash));
                if (shorthand) {
                    return shorthand;
                }
            }

            return '';
        }
    }

    return null;
}

function matches(element: Element, selector: string): boolean {
    try {
        return element.matches(selector);
    } catch {
        // A pseudo-element is another box.
        return false;
    }
}

function animated(element: Element, property: string): Declared[] {
    const key = property.startsWith('--') ? property : property.replace(/-([a-z])/g, (_, letter: string) => letter.toUpperCase());

    return element.getAnimations().flatMap((one): Declared[] => {
        if (!is(one.effect, 'KeyframeEffect') || one.effect.pseudoElement || one.playState === 'idle') {
            return [];
        }
        const frames = one.effect.getKeyframes().filter((frame) => key in frame);
        if (frames.length === 0 || one.effect.getComputedTiming().progress === null) {
            return [];
        }
        const by = is(one, 'CSSTransition') ? 'transition' : 'animation';

        return [
            made(element, property, String(frames[frames.length - 1][key]), false, {
                by,
                name: is(one, 'CSSAnimation') ? one.animationName : '',
            }),
        ];
    });
}

/** The higher one comes (CSS Cascading and Inheritance Level 5, 6.1): transitions, what is important, animations, all else. */
function rank({ by, isImportant }: Declared): number {
    return by === 'transition' ? 3 : isImportant ? 2 : by === 'animation' ? 1 : 0;
}

/** Below nought where the second wins. */
export function against(a: Declared, b: Declared): number {
    const ranks = rank(a) - rank(b);
    if (ranks !== 0) {
        return ranks;
    }
    // The style attribute comes before every rule that is as important.
    const attributes = Number(a.by === 'attribute') - Number(b.by === 'attribute');
    if (attributes !== 0) {
        return attributes;
    }
    const layers = byLayer(a.layer, b.layer) * (a.isImportant ? -1 : 1);

    return layers || compare(a.specificity, b.specificity) || a.order - b.order;
}

/** What is in no layer comes after all layers, a layer's own rules after those of the layers in it. */
function byLayer(a: number[], b: number[]): number {
    for (let i = 0; i < Math.max(a.length, b.length); i++) {
        const [one, other] = [a[i] ?? Infinity, b[i] ?? Infinity];
        if (one !== other) {
            return one < other ? -1 : 1;
        }
    }

    return 0;
}

/** The declaration that an element gets, its own or an inherited one; null where there is none. */
export function winner(element: Element, property: string, walked: Walked): Declared | null {
    for (let at: Element | null = element; at; at = isInherited(property) ? at.parentElement : null) {
        const [best] = declaredOf(at, property, walked).sort((a, b) => against(b, a));
        if (best && !(best.value === 'inherit' && at.parentElement)) {
            return best;
        }
    }

    return null;
}
