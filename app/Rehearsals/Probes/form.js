/*
 * Looks at the form that an element belongs to: marks the fields that are still empty and that a visitor would fill in, and makes
 * the choices that it wants. What is not meant for eyes and hands is left alone: whoever fills that in is taken for a machine.
 */
(selector) => {
    const found = document.querySelector(selector);
    const form = found && (found.form || found.closest('form'));
    if (!form || !form.elements) {
        return [];
    }
    const PERSONAL = /mail|name|phone|tel|street|address|town|city|zip|post|message|comment/i;
    const isMeant = (one) => {
        const { width, height, right, bottom } = one.getBoundingClientRect();
        return (
            one.willValidate &&
            !one.readOnly &&
            one.tabIndex >= 0 &&
            !one.closest('[aria-hidden=true]') &&
            width > 2 &&
            height > 2 &&
            right + scrollX > 0 &&
            bottom + scrollY > 0 &&
            one.checkVisibility({ opacityProperty: true, visibilityProperty: true })
        );
    };
    const called = (one) => [one.name, one.id, one.autocomplete, one.labels?.[0]?.textContent ?? ''].join(' ').slice(0, 200);
    const changed = (one) => ['input', 'change'].forEach((type) => one.dispatchEvent(new Event(type, { bubbles: true })));
    const fields = [];
    Array.from(form.elements)
        .filter(isMeant)
        .slice(0, 40)
        .forEach((one) => {
            if (one.localName === 'select') {
                const option = Array.from(one.options).find((each) => each.value !== '' && !each.disabled);
                if (one.value === '' && one.required && option) {
                    one.value = option.value;
                    changed(one);
                }
            } else if (one.type === 'checkbox' || one.type === 'radio') {
                const isChosen =
                    one.checked ||
                    (one.type === 'radio' &&
                        Array.from(form.elements).some((other) => other.type === 'radio' && other.name === one.name && other.checked));
                if (one.required && !isChosen) {
                    one.click();
                }
            } else if (
                /^(?:input|textarea)$/.test(one.localName) &&
                !['file', 'submit', 'image', 'button', 'reset', 'color', 'range', 'hidden'].includes(one.type) &&
                !one.value
            ) {
                if (one.required || one.localName === 'textarea' || ['email', 'tel'].includes(one.type) || PERSONAL.test(called(one))) {
                    one.setAttribute('data-pellix-field', String(fields.length));
                    fields.push({
                        type: one.type,
                        called: called(one),
                        longest: one.maxLength > 0 ? one.maxLength : null,
                        least: one.min ?? '',
                    });
                }
            }
        });
    return fields;
};
