/** A sentence of the server's, with its numbers held together: `1 373` does not break into two lines. */
export function held(sentence: string): string {
    return sentence
        .replace(/(\d) (?=\d{3}(?!\d))/g, '$1\u202f')
        .replace(/(\d) %/g, '$1\u202f%')
        .replace(/\b([pq]) = /g, '$1\u00a0=\u00a0');
}

/** `Ada`, `Ada or Tom`, `Ada, Ines or Tom`. */
export function listed(names: string[], link: 'and' | 'or'): string {
    return names.length < 2 ? (names[0] ?? 'Nobody') : `${names.slice(0, -1).join(', ')} ${link} ${names[names.length - 1]}`;
}
