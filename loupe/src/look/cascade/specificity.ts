export type Specificity = [ids: number, classes: number, types: number];

export function compare(a: Specificity, b: Specificity): number {
    return a[0] - b[0] || a[1] - b[1] || a[2] - b[2];
}

/** The parts of a list of selectors, parted by commas that stand in no parentheses, brackets or quotes. */
export function listed(text: string): string[] {
    const parts = [''];
    let depth = 0;
    let quote = '';
    for (let i = 0; i < text.length; i++) {
        const character = text[i];
        if (character === '\\') {
            parts[parts.length - 1] += character + (text[++i] ?? '');
            continue;
        }
        if (quote) {
            quote = character === quote ? '' : quote;
        } else if (character === '"' || character === "'") {
            quote = character;
        } else if (character === '(' || character === '[') {
            depth++;
        } else if (character === ')' || character === ']') {
            depth--;
        } else if (character === ',' && depth === 0) {
            parts.push('');
            continue;
        }
        parts[parts.length - 1] += character;
    }

    return parts.map((part) => part.trim()).filter(Boolean);
}

const ELEMENTS_BEFORE = new Set(['before', 'after', 'first-line', 'first-letter']);
const NAME = /^(?:\\[0-9a-fA-F]{1,6}\s?|\\[^\n]|[-\w]|[^\0-\x7f])+/;

/** Of one selector, as Selectors Level 4, 17, counts it. */
export function specificity(selector: string): Specificity {
    const sum: Specificity = [0, 0, 0];
    const add = ([a, b, c]: Specificity): void => {
        sum[0] += a;
        sum[1] += b;
        sum[2] += c;
    };
    let rest = selector;
    while (rest) {
        const first = rest[0];
        const name = (from: number): string => NAME.exec(rest.slice(from))?.[0] ?? '';
        if (first === '#') {
            add([1, 0, 0]);
            rest = rest.slice(1 + name(1).length);
        } else if (first === '.') {
            add([0, 1, 0]);
            rest = rest.slice(1 + name(1).length);
        } else if (first === '[') {
            add([0, 1, 0]);
            rest = rest.slice(closing(rest, '[', ']') + 1);
        } else if (first === ':') {
            const isElement = rest[1] === ':';
            const own = name(isElement ? 2 : 1).toLowerCase();
            rest = rest.slice((isElement ? 2 : 1) + own.length);
            let inside = '';
            if (rest[0] === '(') {
                const end = closing(rest, '(', ')');
                inside = rest.slice(1, end);
                rest = rest.slice(end + 1);
            }
            add(pseudo(own, isElement || ELEMENTS_BEFORE.has(own), inside));
        } else {
            const type = name(0);
            if (type) {
                add([0, 0, 1]);
                rest = rest.slice(type.length);
            } else {
                rest = rest.slice(1);
            }
        }
    }

    return sum;
}

function pseudo(name: string, isElement: boolean, inside: string): Specificity {
    if (isElement) {
        return [0, 0, 1];
    }
    if (name === 'where') {
        return [0, 0, 0];
    }
    if (name === 'is' || name === 'not' || name === 'has') {
        return most(inside);
    }
    if (name === 'nth-child' || name === 'nth-last-child') {
        const of = / of (.*)$/.exec(inside)?.[1];
        const [a, b, c] = of ? most(of) : ([0, 0, 0] as Specificity);

        return [a, b + 1, c];
    }

    return [0, 1, 0];
}

/** That of the most specific of several. */
export function most(selectors: string): Specificity {
    return listed(selectors)
        .map(specificity)
        .reduce((best, one) => (compare(one, best) > 0 ? one : best), [0, 0, 0]);
}

/** Position of what closes the first character. */
function closing(text: string, opens: string, closes: string): number {
    let depth = 0;
    let quote = '';
    for (let i = 0; i < text.length; i++) {
        if (text[i] === '\\') {
            i++;
        } else if (quote) {
            quote = text[i] === quote ? '' : quote;
        } else if (text[i] === '"' || text[i] === "'") {
            quote = text[i];
        } else if (text[i] === opens) {
            depth++;
        } else if (text[i] === closes && --depth === 0) {
            return i;
        }
    }

    return text.length;
}
