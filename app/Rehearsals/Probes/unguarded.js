/*
 * Takes the flicker guard's hold away before it hides anything, to see what visitors would see without it.
 */
new MutationObserver((records) => {
    for (const { addedNodes } of records) {
        for (const node of addedNodes) {
            if (node.localName === 'style' && /\{\s*opacity:\s*0 !important\s*\}\s*$/.test(node.textContent)) {
                node.remove();
            }
        }
    }
}).observe(document, { childList: true, subtree: true });
