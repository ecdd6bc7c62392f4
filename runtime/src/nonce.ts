/** Gives an element the nonce of the page's own snippet, so that a policy lets it take effect. */
export function nonced<T extends HTMLElement>(element: T): T {
    const nonce = document.querySelector<HTMLScriptElement>('script[data-pellix]')?.nonce;
    if (nonce) {
        element.nonce = nonce;
    }

    return element;
}
