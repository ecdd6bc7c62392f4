/** Numbers as the whole interface writes them: narrow spaces between thousands, a point for decimals. */
const SPACE = '\u202f';

export function count(n: number): string {
    return String(Math.round(n)).replace(/\B(?=(\d{3})+(?!\d))/g, SPACE);
}

export function percent(part: number | null, decimals = 1): string {
    return part === null ? '–' : `${(100 * part).toFixed(decimals)}${SPACE}%`;
}

/** A number with a fixed number of decimals: `−1 251.20`. */
export function decimal(n: number, decimals: number): string {
    const [whole, fraction] = Math.abs(n).toFixed(decimals).split('.');

    return `${n < 0 ? '−' : ''}${count(Number(whole))}.${fraction}`;
}

/** A signed difference in percent: `−12.3 %`. */
export function signedPercent(part: number): string {
    const text = percent(Math.abs(part));

    return part < 0 ? `−${text}` : `+${text}`;
}

/** A p-value, from its natural logarithm where it is too small for a number of its own. */
export function pValue(p: number, logP: number | null): string {
    if (p >= 0.001) {
        return `= ${p.toFixed(3)}`;
    }
    if (p > 0) {
        return `= ${p.toExponential(1)}`;
    }

    return logP === null ? '= 0' : `= 10^${Math.round(logP / Math.LN10)}`;
}

export function plural(n: number, noun: string): string {
    return `${count(n)} ${noun}${n === 1 ? '' : 's'}`;
}
