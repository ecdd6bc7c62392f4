/** What the page must not hear of while somebody types into it. */
const OWN = ['keydown', 'keypress', 'keyup', 'beforeinput', 'input', 'paste', 'click', 'dblclick', 'mousedown', 'mouseup'];

/**
 * Lets somebody type the text of an element where it stands. The element is given back as it was; `done` hears the text, or null where
 * it was given up. Returns what ends it, keeping what was typed.
 */
export function editInPlace(element: HTMLElement, text: string, done: (text: string | null) => void): () => void {
    const view = element.ownerDocument.defaultView!;
    const before = Array.from(element.childNodes);
    const editable = element.getAttribute('contenteditable');
    const end = new AbortController();
    const finish = (isKept: boolean): void => {
        if (end.signal.aborted) {
            return;
        }
        end.abort();
        const typed = element.textContent;
        element.replaceChildren(...before);
        if (editable === null) {
            element.removeAttribute('contenteditable');
        } else {
            element.setAttribute('contenteditable', editable);
        }
        done(isKept ? typed.replace(/\u00a0/g, ' ').trim() : null);
    };
    element.textContent = text;
    element.setAttribute('contenteditable', 'plaintext-only');
    if (element.contentEditable !== 'plaintext-only') {
        element.setAttribute('contenteditable', 'true');
    }
    OWN.forEach((name) =>
        view.addEventListener(
            name,
            (event) => {
                if (!(event.target instanceof view.Node) || !element.contains(event.target)) {
                    return;
                }
                event.stopImmediatePropagation();
                if (name === 'click' || name === 'keyup') {
                    // A link would be followed, and a button pressed by the blank that is typed into it.
                    event.preventDefault();
                }
                if (event instanceof view.KeyboardEvent && name === 'keydown' && event.key === ' ' && element.localName === 'button') {
                    // It would be pressed instead.
                    event.preventDefault();
                    element.ownerDocument.execCommand('insertText', false, ' ');
                }
                if (event instanceof view.KeyboardEvent && name === 'keydown' && (event.key === 'Enter' || event.key === 'Escape')) {
                    event.preventDefault();
                    finish(event.key === 'Enter');
                }
            },
            { capture: true, signal: end.signal },
        ),
    );
    element.addEventListener('blur', () => finish(true), { signal: end.signal });
    element.focus();
    element.ownerDocument.getSelection()?.selectAllChildren(element);

    return () => finish(true);
}
