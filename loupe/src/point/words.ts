const KINDS: Record<string, string> = {
    a: 'link',
    img: 'picture',
    p: 'paragraph',
    ul: 'list',
    ol: 'list',
    li: 'list item',
    nav: 'navigation',
    input: 'field',
    textarea: 'field',
    select: 'choice',
    td: 'cell',
    th: 'cell',
    tr: 'row',
    section: 'section',
    div: 'block',
    span: 'words',
    main: 'main part',
};

const LONGEST = 40;
const DEEPEST = 5;

/** An element as somebody would call it: `link “Join”`. */
export function called(element: Element): string {
    const tag = element.localName;
    const kind = /^h[1-6]$/.test(tag) ? 'heading' : (KINDS[tag] ?? tag);
    const words = (element.getAttribute('aria-label') ?? element.getAttribute('alt') ?? element.textContent ?? '')
        .replace(/\s+/g, ' ')
        .trim();

    return words === '' ? kind : `${kind} “${words.length > LONGEST ? `${words.slice(0, LONGEST)}…` : words}”`;
}

/** Where it is, from the inside out. */
export function whereabouts(element: Element): string {
    const around: string[] = [];
    for (let at = element.parentElement; at && at !== at.ownerDocument.body && around.length < DEEPEST; at = at.parentElement) {
        around.push(`in ${KINDS[at.localName] ?? at.localName}${at.id ? ` #${at.id}` : ''}`);
    }

    return [called(element), ...around].join(', ');
}
