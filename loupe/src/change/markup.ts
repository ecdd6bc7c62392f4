/** The HTML of an element to be put in once more: without what there may be only once, and without code. */
export function markup(element: Element): string {
    const copy = element.cloneNode(true) as Element;
    [copy, ...Array.from(copy.querySelectorAll('*'))].forEach((one) => {
        if (one.localName === 'script') {
            one.remove();
        }
        for (const { name } of Array.from(one.attributes)) {
            if (name === 'id' || name === 'contenteditable' || name.startsWith('on')) {
                one.removeAttribute(name);
            }
        }
    });

    return copy.outerHTML;
}
