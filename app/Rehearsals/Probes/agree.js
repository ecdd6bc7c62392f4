/*
 * Presses what looks most like a yes (common practice, no source), also within open shadow roots, and says what it was. What was
 * pressed before is left alone.
 */
(pressed) => {
    const words = [
        /\b(?:accept|agree|allow|consent)\b.*\ball\b|\ball\b.*\b(?:accept|agree|allow)\b/i,
        /\b(?:accept|agree|allow|consent|yes|ok|okay|got it|understand)\b|zustimmen|akzeptieren|einverstanden|aceitar|aceito|accepter|aceptar|accetta/i,
        // What a second step is often called.
        /\b(?:confirm|save|apply)\b|bestätigen|speichern|confirmar|guardar|confirmer|enregistrer/i,
    ];
    const within = (root) =>
        Array.from(root.querySelectorAll('*')).flatMap((one) => [one, ...(one.shadowRoot ? within(one.shadowRoot) : [])]);
    const text = (one) => (one.textContent || one.value || one.getAttribute('aria-label') || '').replace(/\s+/g, ' ').trim();
    const found = within(document).filter(
        (one) =>
            one.matches('button, [role=button], input[type=button], input[type=submit], a[href="#"], a:not([href])') &&
            one.getClientRects().length > 0,
    );
    for (const word of pressed.length === 0 ? words.slice(0, 2) : words) {
        const yes = found.find((one) => word.test(text(one)) && text(one).length < 60 && !pressed.includes(text(one)));
        if (yes) {
            yes.click();
            return text(yes);
        }
    }
    return null;
};
