/**
 * Where two values differ: the path to the one place where they do, such as `variants.1.name`; and whether that is a text, as when
 * somebody types.
 */
export function changedPath(before: unknown, after: unknown): { path: string; isText: boolean } {
    const steps: string[] = [];
    let [one, other] = [before, after];
    while (isObject(one) && isObject(other)) {
        const names = [...new Set([...Object.keys(one), ...Object.keys(other)])];
        const [a, b] = [one, other];
        const differing = names.filter((name) => JSON.stringify(a[name]) !== JSON.stringify(b[name]));
        if (differing.length !== 1) {
            break;
        }
        steps.push(differing[0]);
        [one, other] = [a[differing[0]], b[differing[0]]];
    }

    return { path: steps.join('.'), isText: typeof one === 'string' && typeof other === 'string' };
}

function isObject(value: unknown): value is Record<string, unknown> {
    return typeof value === 'object' && value !== null;
}
