/** The target for a visitor of an address, as core/src/Experiments/Redirect.php puts it together. */
export function merged(target: string, visited: string): string {
    const [base, query, fragment] = apart(target);
    const [, theirs, place] = apart(visited);
    const own = pairs(query);
    const names = own.map(nameOf);
    const all = [...own, ...pairs(theirs).filter((pair) => !names.includes(nameOf(pair)))].join('&');

    return base + (all && `?${all}`) + ((fragment || place) && `#${fragment || place}`);
}

function apart(address: string): [base: string, query: string, fragment: string] {
    const [, base, query = '', fragment = ''] = /^([^?#]*)(?:\?([^#]*))?(?:#(.*))?$/s.exec(address)!;

    return [base, query, fragment];
}

function pairs(query: string): string[] {
    return query.split('&').filter(Boolean);
}

/** The name of a parameter, however its plain characters are written. */
function nameOf(pair: string): string {
    return pair
        .split('=')[0]
        .replace(/\+/g, ' ')
        .replace(/%([0-9a-f]{2})/gi, (code, hex: string) => {
            const number = parseInt(hex, 16);

            return number < 128 ? String.fromCharCode(number) : code.toUpperCase();
        });
}
