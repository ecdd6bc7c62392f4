import { is } from './kinds';
/** A style rule as it is written, and the line that it begins on. */
interface Written {
    selector: string;
    line: number;
}

/** Style rules of a text in their order, those within others after them; what is in strings and comments is passed over. */
export function written(text: string): Written[] {
    const all: Written[] = [];
    let line = 1;
    let begin = { at: 0, line: 1, isBlank: true };
    let prelude = '';
    const count = (part: string): void => {
        line += part.split('\n').length - 1;
    };
    for (let i = 0; i < text.length; i++) {
        const character = text[i];
        if (character === '/' && text[i + 1] === '*') {
            const end = text.indexOf('*/', i + 2);
            const stop = end < 0 ? text.length : end + 2;
            count(text.slice(i, stop));
            i = stop - 1;
        } else if (character === '"' || character === "'") {
            let end = i + 1;
            while (end < text.length && text[end] !== character && text[end] !== '\n') {
                end += text[end] === '\\' ? 2 : 1;
            }
            prelude += text.slice(i, end + 1);
            count(text.slice(i, end + 1));
            i = end;
        } else if (character === '{') {
            const selector = prelude.trim();
            if (selector && !selector.startsWith('@')) {
                all.push({ selector, line: begin.line });
            }
            prelude = '';
            begin = { at: i, line, isBlank: true };
        } else if (character === '}' || character === ';') {
            prelude = '';
            begin = { at: i, line, isBlank: true };
        } else {
            if (character === '\n') {
                line++;
            } else if (begin.isBlank && !/\s/.test(character)) {
                begin = { at: i, line, isBlank: false };
            }
            prelude += character;
        }
    }

    return all;
}

/** Lines of the rules of a sheet: what the browser has read is found again in the text, in its order; what it refused is passed over. */
export function linesOf(sheet: CSSStyleSheet, text: string): Map<CSSRule, number> {
    const lines = new Map<CSSRule, number>();
    const all = written(text).map(({ selector, line }) => ({ selector: normal(selector), line }));
    let next = 0;
    const look = (rules: CSSRuleList): void => {
        for (const rule of Array.from(rules)) {
            if (is(rule, 'CSSStyleRule')) {
                const own = normal(rule.selectorText);
                const at = all.findIndex((one, i) => i >= next && (one.selector === own || `& ${one.selector}` === own));
                if (at >= 0) {
                    lines.set(rule, all[at].line);
                    next = at + 1;
                }
            }
            if ('cssRules' in rule && !is(rule, 'CSSKeyframesRule')) {
                look((rule as CSSGroupingRule).cssRules);
            }
        }
    };
    look(sheet.cssRules);

    return lines;
}

let probe: CSSStyleSheet | null = null;
const spelled = new Map<string, string>();

/** As the browser spells a selector. */
function normal(selector: string): string {
    let own = spelled.get(selector);
    if (own === undefined) {
        own = selector.replace(/\s+/g, ' ').trim();
        try {
            probe ??= new CSSStyleSheet();
            probe.replaceSync(`${selector} {}`);
            own = (probe.cssRules[0] as CSSStyleRule | undefined)?.selectorText ?? own;
        } catch {
            // It stays as it is written.
        }
        spelled.set(selector, own);
    }

    return own;
}
